<?php

declare(strict_types=1);

namespace App\Models;

use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;

/** One pack over all its jobs and owners, known by a code of ours. */
final class Pack extends Row
{
    protected $table = 'packs';

    protected $attributes = ['serial' => '', 'state' => '', 'version' => 1];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['spec' => 'array'] + array_fill_keys(['work_ended_at', 'next_at', 'stopped_at'], 'immutable_datetime');
    }

    public function packSpec(): PackSpec
    {
        return PackSpec::from(new Fields($this->spec));
    }

    /** @return BelongsTo<Customer, $this> */
    public function customer(): BelongsTo
    {
        return $this->belongsTo(Customer::class);
    }

    /** @return HasMany<Job, $this> */
    public function jobs(): HasMany
    {
        return $this->hasMany(Job::class)->orderByDesc('id');
    }

    /** @return HasMany<PackOwner, $this> */
    public function owners(): HasMany
    {
        return $this->hasMany(PackOwner::class)->orderByDesc('from_at')->orderByDesc('id');
    }

    /** @return HasMany<PackLink, $this> */
    public function links(): HasMany
    {
        return $this->hasMany(PackLink::class)->orderByDesc('id');
    }

    /** @return HasMany<ServiceReading, $this> */
    public function serviceReadings(): HasMany
    {
        return $this->hasMany(ServiceReading::class)->orderBy('at')->orderBy('told_at');
    }
}
