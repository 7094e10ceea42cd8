<?php

declare(strict_types=1);

namespace App\Models;

use Heartwood\Core\Safety\SafetyState;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;

/** One pack on its way through the workshop. */
final class Job extends Row
{
    protected $attributes = ['waits_for' => '', 'status' => 'open', 'stage' => 'intake', 'safety_state' => 'clear', 'version' => 1];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'pack' => 'array',
            'symptoms' => 'array',
            'inspection' => 'array',
            'safety_reasons' => 'array',
            'safety_released' => 'array',
            'lot_facts' => 'array',
            'came_v' => 'float',
            'waits_until' => 'immutable_datetime',
            'held_since' => 'immutable_datetime',
            'closed_at' => 'immutable_datetime',
        ];
    }

    public function safety(): SafetyState
    {
        return SafetyState::from($this->safety_state);
    }

    /** @return BelongsTo<Workshop, $this> */
    public function workshop(): BelongsTo
    {
        return $this->belongsTo(Workshop::class);
    }

    /** @return BelongsTo<Customer, $this> */
    public function customer(): BelongsTo
    {
        return $this->belongsTo(Customer::class);
    }

    /** @return BelongsTo<Pack, $this> */
    public function itsPack(): BelongsTo
    {
        return $this->belongsTo(Pack::class, 'pack_id');
    }

    /** @return BelongsTo<PackModel, $this> */
    public function packModel(): BelongsTo
    {
        return $this->belongsTo(PackModel::class);
    }

    /** @return HasMany<Measurement, $this> */
    public function measurements(): HasMany
    {
        return $this->hasMany(Measurement::class)->orderBy('taken_at')->orderBy('id');
    }

    /** @return HasMany<Reading, $this> */
    public function readings(): HasMany
    {
        return $this->hasMany(Reading::class)->orderBy('taken_at')->orderBy('id');
    }

    /** @return HasMany<BenchTest, $this> */
    public function benchTests(): HasMany
    {
        return $this->hasMany(BenchTest::class)->orderBy('taken_at')->orderBy('id');
    }

    /** @return HasMany<PackRevision, $this> */
    public function revisions(): HasMany
    {
        return $this->hasMany(PackRevision::class)->orderBy('number');
    }
}
