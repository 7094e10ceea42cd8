<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** The tenant: every other row belongs to one. Settings: rate_cents, fee_cents, new_per_wh_cents, currency. */
final class Workshop extends Model
{
    public $timestamps = true;

    protected $table = 'workshops';

    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['settings' => 'array'];
    }
}
