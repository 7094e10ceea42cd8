<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Limits\ProtocolLimits;
use Heartwood\Core\Record\JobRecord;

/** What a charger did in trial cycles on workshop cells (handbook "Outside the pack"). */
final readonly class ChargerTrial
{
    /** Stages that no charger for these cells has. */
    public const FOREIGN = ['equalise', 'desulphate', 'pulse'];

    /**
     * @param  int  $cycles  run in all
     * @param  int  $faults  of them with the fault seen, a foreign stage, or a board that had to cut
     * @param  list<string>  $stages  seen in any of them
     * @param  float|null  $endV  the highest that a charge ended at
     */
    private function __construct(public int $cycles, public int $faults, public array $stages, public ?float $endV) {}

    public static function of(JobRecord $record): self
    {
        $cycles = $faults = 0;
        $stages = $ends = [];
        foreach ($record->currentTests('charger-trial') as $t) {
            foreach ($t->data->objects('cycles') as $c) {
                $cycles++;
                $seen = $c->strings('stages');
                array_push($stages, ...$seen);
                $end = $c->float('end_v');
                if ($end !== null && $end > 0.0) {
                    $ends[] = $end;
                }
                $faults +=
                    $c->bool('fault_seen') === true || $c->bool('board_cut') === true || array_intersect($seen, self::FOREIGN) !== []
                        ? 1
                        : 0;
            }
        }

        return new self($cycles, $faults, $stages, $ends === [] ? null : max($ends));
    }

    /** A suspicion after so many cycles without the fault: each counts as one chance to show it (Laplace's rule of succession). */
    public function after(float $suspicion): float
    {
        $odds = $suspicion / (1 - $suspicion) / (1 + $this->cycles);

        return $odds / (1 + $odds);
    }

    public function sentence(): string
    {
        return self::sentenceOf($this->cycles, $this->faults);
    }

    /** What so many cycles say: n without the fault leave 1 - 0.05^(1/n) of a cycle open (the rule of three in its exact form). */
    public static function sentenceOf(int $cycles, int $faults): string
    {
        return $faults > 0
            ? sprintf('in %d of %d trial cycles it did what it must not', $faults, $cycles)
            : sprintf(
                'not replicated in %d trial cycle%s: under %.0f %% a cycle (95 %%), which is no acquittal',
                $cycles,
                $cycles === 1 ? '' : 's',
                100 * (1 - ProtocolLimits::MISSED ** (1 / max(1, $cycles))),
            );
    }
}
