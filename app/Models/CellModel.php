<?php

declare(strict_types=1);

namespace App\Models;

/** A cell as its maker describes it; spec in the record's `cell` fields. */
final class CellModel extends Row
{
    /** Fields of `pack.cell` in the record; the others of a spec are this shop's own. */
    private const IN_RECORD = ['format', 'capacity_ah', 'max_continuous_a', 'peak_a', 'peak_s', 'max_charge_a', 'resistance_mohm'];

    public $timestamps = true;

    protected $table = 'cell_models';

    /** @return array<string, array<string, mixed>> what makers say, by the name of the model */
    public static function specs(int $workshop): array
    {
        return self::query()->where('workshop_id', $workshop)->pluck('spec', 'name')->all();
    }

    /**
     * What the job record may say of the cells of a pack, out of what is known of their model.
     *
     * @return array<string, mixed>
     */
    public function forRecord(): array
    {
        return ['model' => $this->name] + array_intersect_key($this->spec ?? [], array_flip(self::IN_RECORD));
    }

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['spec' => 'array'];
    }
}
