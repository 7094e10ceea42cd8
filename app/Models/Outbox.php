<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A bench's outbox: one person, numbered without gaps. */
final class Outbox extends Model
{
    public $timestamps = true;

    protected $table = 'outboxes';

    public $incrementing = false;

    protected $keyType = 'string';

    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [];
    }
}
