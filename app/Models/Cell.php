<?php

declare(strict_types=1);

namespace App\Models;

use Heartwood\Core\Cell\DrawerCell;
use Heartwood\Core\Log\CapacityHistory;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** One cell of the drawer, under the code of its label; what it went through is in its events. */
final class Cell extends Row
{
    public const STATES = ['untested', 'testing', 'accepted', 'rejected', 'used', 'spare'];

    public $timestamps = true;

    protected $table = 'cells';

    protected $attributes = ['state' => 'untested', 'reason' => '', 'origin' => 'new', 'damaged' => false, 'version' => 1];

    /** Graded, measured or edited: whoever has an older look at it open is told. */
    protected static function booted(): void
    {
        self::updating(function (self $cell): void {
            $cell->version++;
        });
        // Typed, unless a log says that it gave it.
        self::saving(function (self $cell): void {
            if ($cell->isDirty('capacity_ah') && !$cell->isDirty('capacity_from')) {
                $cell->capacity_from = $cell->capacity_ah === null ? null : 'typed';
            }
        });
    }

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'capacity_ah' => 'float',
            'mohm' => 'float',
            'rest_v' => 'float',
            'leak_percent_month' => 'float',
            'rated_ah' => 'float',
            'damaged' => 'boolean',
        ];
    }

    /** @return BelongsTo<Lot, $this> */
    public function lot(): BelongsTo
    {
        return $this->belongsTo(Lot::class);
    }

    /**
     * What a log measured of it. A grade was given to other figures, and is to be given anew.
     *
     * @param  array<string, mixed>  $figures  capacity_ah and mohm, what of them the log told
     */
    public function measured(array $figures): void
    {
        if (isset($figures['capacity_ah'])) {
            $figures['capacity_from'] = 'log';
        }
        if ($figures !== [] && in_array($this->state, ['untested', 'accepted', 'spare'], true)) {
            $figures['state'] = 'testing';
        }
        $this->update($figures);
    }

    /**
     * @param  array<string, mixed>  $spec  what its maker says of the model
     * @return DrawerCell|null for the rules; null while capacity or resistance is not known
     */
    public function forRules(string $lot, array $spec = []): ?DrawerCell
    {
        return $this->capacity_ah === null || $this->mohm === null
            ? null
            : new DrawerCell(
                $this->code,
                (float) $this->capacity_ah,
                (float) $this->mohm,
                $this->rest_v,
                $this->leak_percent_month,
                $lot,
                $this->chemistry,
                isset($spec['full_v']) ? (float) $spec['full_v'] : null,
                isset($spec['max_continuous_a']) ? (float) $spec['max_continuous_a'] : null,
                $this->damaged,
                // What a tester's gain leaves is common to all that it measured, and counted with the deal.
                $this->capacity_from === 'log' ? 0.0 : CapacityHistory::sigma((float) $this->capacity_ah, false),
                ratedAh: (float) $this->rated_ah,
                model: $this->model,
            );
    }
}
