<?php

declare(strict_types=1);

namespace App\Models;

/** A pack entered once and reused for batches; spec in the record's `pack` fields. */
final class PackModel extends Row
{
    public $timestamps = true;

    protected $table = 'pack_models';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['spec' => 'array'];
    }
}
