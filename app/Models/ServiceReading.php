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

    protected $attributes = ['note' => ''];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'at' => 'immutable_datetime',
            'told_at' => 'immutable_datetime',
            'groups_v' => 'array',
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
