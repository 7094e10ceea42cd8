<?php

declare(strict_types=1);

namespace App\Models;

/** What the display of a pack showed, as its owner photographed it beside a reading. Never altered. */
final class ServicePhoto extends Row
{
    public $timestamps = false;

    public $incrementing = false;

    protected $keyType = 'string';

    protected $table = 'service_photos';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['taken_at' => 'immutable_datetime', 'received_at' => 'immutable_datetime'];
    }
}
