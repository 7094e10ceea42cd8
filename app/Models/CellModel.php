<?php

declare(strict_types=1);

namespace App\Models;

/** A cell as its maker describes it; spec in the record's `cell` fields. */
final class CellModel extends Row
{
    public $timestamps = true;

    protected $table = 'cell_models';

    /** @return array<string, array<string, mixed>> what makers say, by the name of the model */
    public static function specs(int $workshop): array
    {
        return self::query()->where('workshop_id', $workshop)->pluck('spec', 'name')->all();
    }

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['spec' => 'array'];
    }
}
