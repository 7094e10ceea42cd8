<?php

declare(strict_types=1);

namespace App\Models;

/** One test of the record (capacity, wake, continuity ...). Immutable. */
final class BenchTest extends Taken
{
    protected $table = 'bench_tests';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['data' => 'array', 'taken_at' => 'immutable_datetime'];
    }
}
