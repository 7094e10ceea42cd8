<?php

declare(strict_types=1);

namespace App\Models;

/** A device, a board or a charger as its sheet describes it; spec in the record's fields of that part. */
final class PartModel extends Row
{
    /** Part of the pack in the record, by the kind of model. */
    public const PARTS = ['device' => 'load', 'board' => 'bms', 'charger' => 'charger'];

    public $timestamps = true;

    protected $table = 'part_models';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['spec' => 'array'];
    }
}
