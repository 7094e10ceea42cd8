<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Query\Builder;
use Illuminate\Support\Facades\DB;

/** A bench's outbox: one person, numbered without gaps, named within its workshop. */
final class Outbox
{
    /** Its row, whether it is there or not. */
    public static function of(int $workshop, string $id): Builder
    {
        return DB::table('outboxes')->where('workshop_id', $workshop)->where('id', $id);
    }
}
