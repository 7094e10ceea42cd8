<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A pack entered once and reused for batches; spec in the record's `pack` fields. */
final class PackModel extends Model
{
    public $timestamps = true;

    protected $table = 'pack_models';

    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['spec' => 'array'];
    }
}
