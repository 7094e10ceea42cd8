<?php

declare(strict_types=1);

namespace App\Models;

use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;

/** Packs of one kind that were taken in together: one layout, one teardown, one set of limits. */
final class Batch extends Row
{
    protected $table = 'batches';

    protected $attributes = ['version' => 1];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'pack' => 'array',
            'supplies' => 'integer',
            'places' => 'integer',
            'hours_a_day' => 'float',
            'paid_cents' => 'integer',
            'sells_cents' => 'integer',
            'margin_percent' => 'float',
        ];
    }

    public function packSpec(): PackSpec
    {
        return PackSpec::from(new Fields($this->pack));
    }

    /** @return BelongsTo<Customer, $this> */
    public function customer(): BelongsTo
    {
        return $this->belongsTo(Customer::class);
    }

    /** @return HasMany<Job, $this> */
    public function jobs(): HasMany
    {
        return $this->hasMany(Job::class)->orderBy('number');
    }
}
