<?php

declare(strict_types=1);

namespace App\Models;

/** Whose pack it is. */
final class Customer extends Row
{
    public $timestamps = true;

    protected $table = 'customers';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [];
    }
}
