<?php

declare(strict_types=1);

namespace App\Models;

/** One reading as typed, beside its decimal value; null value withdraws the one it corrects. Immutable. */
final class Reading extends Taken
{
    protected $table = 'readings';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['taken_at' => 'immutable_datetime', 'value' => 'float', 'resolution_v' => 'float'];
    }
}
