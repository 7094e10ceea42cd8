<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** What every table of ours has in common: times to the microsecond, and filling left to the actions that validate. */
abstract class Row extends Model
{
    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';
}
