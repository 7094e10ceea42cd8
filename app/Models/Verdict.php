<?php

declare(strict_types=1);

namespace App\Models;

/** A verdict as issued, with the hash of record, settings and priors. Immutable. */
final class Verdict extends Row
{
    public $timestamps = false;

    protected $table = 'verdicts';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['document' => 'array', 'detail' => 'array', 'issued_at' => 'immutable_datetime'];
    }
}
