<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A cell as its maker describes it; spec in the record's `cell` fields. */
final class CellModel extends Model
{
    public $timestamps = true;

    protected $table = 'cell_models';

    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['spec' => 'array'];
    }
}
