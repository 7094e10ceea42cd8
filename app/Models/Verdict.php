<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A verdict as issued, with the hash of record, settings and priors. Immutable. */
final class Verdict extends Model
{
    public $timestamps = false;

    protected $table = 'verdicts';

    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['document' => 'array', 'detail' => 'array', 'issued_at' => 'immutable_datetime'];
    }
}
