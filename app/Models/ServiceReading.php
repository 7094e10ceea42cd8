<?php

declare(strict_types=1);

namespace App\Models;

use Heartwood\Core\Drift\Point;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** What was read of a pack in service, by its owner or at the bench. Never altered: one that was wrong is taken back by another row. */
final class ServiceReading extends Row
{
    public $timestamps = false;

    public $incrementing = false;

    protected $keyType = 'string';

    protected $table = 'service_readings';

    protected $attributes = ['note' => '', 'topped_up' => false];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'at' => 'immutable_datetime',
            'told_at' => 'immutable_datetime',
            'groups_v' => 'array',
            'halves_v' => 'array',
            'topped_up' => 'boolean',
            'signs' => 'array',
            'answer' => 'array',
            'soc' => 'float',
            'highest_v' => 'float',
            'lowest_v' => 'float',
            'pack_v' => 'float',
            'resolution_v' => 'float',
        ];
    }

    public function point(): Point
    {
        return new Point(
            $this->at->toIso8601ZuluString('microsecond'),
            $this->condition,
            $this->soc,
            $this->groups_v === null ? null : self::volts((array) $this->groups_v),
            $this->highest_v,
            $this->lowest_v,
            $this->resolution_v,
        );
    }

    /** @return array{float, float}|null volts of the lower and of the upper half */
    public function halves(): ?array
    {
        return $this->halves_v === null ? null : [(float) $this->halves_v[0], (float) $this->halves_v[1]];
    }

    /**
     * @param  array<array-key, mixed>  $groups
     * @return list<float|null>
     */
    private static function volts(array $groups): array
    {
        return array_map(fn(mixed $v): ?float => $v === null ? null : (float) $v, array_values($groups));
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class);
    }
}
