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
        return ['spec' => 'array', 'glance' => 'array', 'topup' => 'array', 'topup_every_d' => 'integer'] +
            array_fill_keys(['work_ended_at', 'next_at', 'read_at', 'topup_at', 'stopped_at'], 'immutable_datetime');
    }

    /** The pack whose code on our label this is, however it was typed. */
    public static function coded(int $workshop, string $typed): ?self
    {
        $code = strtoupper(str_replace(['-', ' '], '', $typed));

        if (preg_match('/^[A-Z2-9]{8}$/D', $code) !== 1) {
            return null;
        }
        /** @var self|null $pack */
        $pack = self::query()->where('workshop_id', $workshop)->where('code', $code)->first();

        return $pack;
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
