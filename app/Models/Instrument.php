<?php

declare(strict_types=1);

namespace App\Models;

/** A meter, supply, load or board at a bench place, reached by host and port. `timer` is what renews a supply, when proved. */
final class Instrument extends Row
{
    public $timestamps = true;

    protected $table = 'instruments';

    protected $attributes = ['identity' => '{}', 'place' => '', 'timer' => '', 'simulated' => false, 'active' => true, 'timeout_s' => 0.8, 'style' => ''];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['identity' => 'array', 'simulated' => 'boolean', 'active' => 'boolean', 'checked_at' => 'immutable_datetime', 'timeout_s' => 'float', 'channel' => 'integer', 'isolation_mohm' => 'float', 'isolation_at' => 'immutable_datetime'];
    }
}
