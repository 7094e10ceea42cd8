<?php

declare(strict_types=1);

namespace App\Models;

/** Who agreed, whom they let us call, and how they signed. */
final class ConsentPerson extends Row
{
    public $timestamps = false;

    public $incrementing = false;

    protected $table = 'consent_people';

    protected $primaryKey = 'consent_id';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['signature' => 'array'];
    }
}
