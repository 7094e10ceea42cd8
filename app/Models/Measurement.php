<?php

declare(strict_types=1);

namespace App\Models;

/** A set of readings under one condition, as taken. Immutable. */
final class Measurement extends Taken
{
    protected $table = 'measurements';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['data' => 'array', 'taken_at' => 'immutable_datetime'];
    }
}
