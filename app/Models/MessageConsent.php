<?php

declare(strict_types=1);

namespace App\Models;

/** That a customer agreed to be written to about one kind of thing, or does not any more. Never altered: the latest counts. */
final class MessageConsent extends Row
{
    public $timestamps = false;

    protected $table = 'message_consents';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['agreed' => 'boolean', 'at' => 'immutable_datetime'];
    }
}
