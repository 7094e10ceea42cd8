<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Limits\CellLimits;
use Heartwood\Core\Maths\Robust;

/** What a shop takes into a build (handbook "Grading and matching"); the numbers are its settings. */
final readonly class GradeRules
{
    public const LOW_DRAIN_SHARE = 0.6;

    public function __construct(
        public float $ratedAh,
        public float $leastShare = 0.8,
        public float $mostOverLotMedian = 1.5,
        public float $mostLeakPercentMonth = 10.0,
        public float $ratioInGroup = CellLimits::RATIO_IN_GROUP,
    ) {}

    /**
     * Each cell by its own rating; one without by that of the rules.
     *
     * @param  list<DrawerCell>  $cells
     * @return array{accepted: list<DrawerCell>, rejected: array<string, string>} rejects by id, with the reason
     */
    public function grade(array $cells): array
    {
        $lots = [];
        foreach ($cells as $c) {
            // A lot may hold several models: each is compared with its own.
            $lots[$c->kind()][] = $c->mohm;
        }
        $median = array_map(fn(array $r): float => Robust::median($r), $lots);
        $accepted = $rejected = [];
        foreach ($cells as $c) {
            $rated = $c->ratedAh ?? $this->ratedAh;
            $usual = $median[$c->kind()];
            $why = match (true) {
                $c->damaged => 'damaged',
                $c->capacityAh < $this->leastShare * $rated => sprintf(
                    '%.2f Ah, %.2f Ah wanted',
                    $c->capacityAh,
                    $this->leastShare * $rated,
                ),
                $c->mohm <= 0 => 'resistance not measured',
                $c->mohm > $this->mostOverLotMedian * $usual => sprintf(
                    '%.0f mohm, over %.1f times its lot\'s %.0f',
                    $c->mohm,
                    $this->mostOverLotMedian,
                    $usual,
                ),
                $c->leakPercentMonth !== null && $c->leakPercentMonth > $this->mostLeakPercentMonth => sprintf(
                    'loses %.0f %% a month',
                    $c->leakPercentMonth,
                ),
                default => null,
            };
            $why === null ? ($accepted[] = $c) : ($rejected[$c->id] = $why);
        }

        return ['accepted' => $accepted, 'rejected' => $rejected];
    }
}
