<?php

declare(strict_types=1);

namespace App\Models;

/** The tenant: every other row belongs to one. Settings: rate_cents, fee_cents, new_per_wh_cents, currency. */
final class Workshop extends Row
{
    public $timestamps = true;

    protected $table = 'workshops';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['settings' => 'array'];
    }
}
