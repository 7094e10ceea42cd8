<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

/** The meter of a round: counts, ranges, and an error of its own on each of them, the same all day. */
final class Meter
{
    /**
     * Ranges: up to so many volts, in steps of so many.
     *
     * @var array<string, array{percent: float, counts: int, steps: non-empty-list<array{float, float}>}>
     */
    private const KINDS = [
        'bench' => ['percent' => 0.05, 'counts' => 2, 'steps' => [[5.0, 0.0001], [50.0, 0.001], [500.0, 0.01]]],
        'hand' => ['percent' => 0.5, 'counts' => 2, 'steps' => [[6.0, 0.001], [60.0, 0.01], [600.0, 0.1]]],
        'coarse' => ['percent' => 0.8, 'counts' => 3, 'steps' => [[4.0, 0.001], [40.0, 0.01], [400.0, 0.1]]],
    ];

    /** A number that moves a little between two readings, volts. */
    private const FLICKER_V = 0.0003;

    /** Of its last step, as one sigma. */
    private const ROUNDING = 0.33;

    /** @var list<float> by range, in their order */
    private array $gain;

    /** @param  'bench'|'hand'|'coarse'  $kind */
    public function __construct(private readonly string $kind, Luck $luck, private readonly string $id = 'meter')
    {
        $this->gain = array_map(
            fn(array $range): float => 1 + $luck->normal(self::KINDS[$kind]['percent'] / 100 / 2),
            self::KINDS[$kind]['steps'],
        );
    }

    /** @return array{v: float, resolution_v: float} what it shows of so many volts */
    public function shows(float $volts, Luck $luck): array
    {
        $steps = self::KINDS[$this->kind]['steps'];
        for ($i = 0; $i < count($steps) - 1 && abs($volts) > $steps[$i][0]; $i++);
        $step = $steps[$i][1];
        $seen = $volts * $this->gain[$i] + $luck->normal(self::FLICKER_V) + $luck->normal(self::ROUNDING * $step);

        return ['v' => round(round($seen / $step) * $step, 4), 'resolution_v' => $step];
    }

    /** @return array<string, mixed> as the record has it */
    public function toArray(): array
    {
        return [
            'id' => $this->id,
            'kind' => 'multimeter',
            'percent' => self::KINDS[$this->kind]['percent'],
            'counts' => self::KINDS[$this->kind]['counts'],
            'input' => 'high',
        ];
    }
}
