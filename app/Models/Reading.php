<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** One reading as typed, beside its decimal value; null value withdraws the one it corrects. Immutable. */
final class Reading extends Model
{
    public $timestamps = false;

    protected $table = 'readings';

    public $incrementing = false;

    protected $keyType = 'string';

    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['taken_at' => 'immutable_datetime', 'value' => 'float', 'resolution_v' => 'float'];
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class, 'taken_by');
    }
}
