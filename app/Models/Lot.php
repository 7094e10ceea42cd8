<?php

declare(strict_types=1);

namespace App\Models;

/** Cells that came together: supplier, date code, price each. */
final class Lot extends Row
{
    public $timestamps = true;

    protected $table = 'lots';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [];
    }
}
