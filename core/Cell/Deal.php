<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Limits\CellLimits;
use Heartwood\Core\Maths\Tiny;

/** Cells dealt into groups, with the figures by which deals are compared. */
final readonly class Deal
{
    /** @var list<float> Ah of each group */
    public array $totals;

    /** @var list<float> siemens of each group */
    public array $conductances;

    /** Share by which the smallest group stays under the bound. */
    public float $gap;

    /** Largest over smallest conductance, less one. */
    public float $conductanceSpread;

    /** Largest ratio of resistances inside any group. */
    public float $worstRatio;

    /** Lots of each group, counted and summed: as many as there are groups when none is mixed. */
    public int $lots;

    /**
     * @param  list<list<DrawerCell>>  $groups
     * @param  list<DrawerCell>  $spares
     * @param  float  $bound  Ah that the smallest group cannot pass
     * @param  bool  $proven  every deal of these cells was looked at
     * @param  list<int>  $own  groups, from 0, that keep cells of their own, which nobody knows: no figure is about them
     */
    public function __construct(
        public array $groups,
        public array $spares,
        public float $bound,
        public string $way,
        public bool $proven = false,
        public array $own = [],
    ) {
        $this->totals = array_map(DrawerCell::totalAh(...), $groups);
        $this->conductances = array_map(
            fn(array $g): float => array_sum(array_map(fn(DrawerCell $c): float => 1000 / $c->mohm, $g)),
            $groups,
        );
        $least = $this->least();
        $this->gap = $bound > 0 ? max(0.0, 1 - $least / $bound) : 0.0;
        // A group that is left without cells has no conductance to compare.
        $some = array_filter($this->conductances, fn(float $g): bool => $g > 0.0);
        $this->conductanceSpread = $some === [] ? 0.0 : max($some) / min($some) - 1;
        $this->worstRatio = max(1.0, 1.0, ...array_map(self::ratio(...), $groups));
        $lots = 0;
        foreach ($groups as $g) {
            $lots += count(array_unique(array_map(fn(DrawerCell $c): string => $c->kind(), $g)));
        }
        $this->lots = $lots;
    }

    /**
     * A deal as a hand laid it, by the same figures as one by the rules.
     *
     * @param  list<list<string>>  $codes  of the cells of each group
     * @param  array<string, DrawerCell>  $cells  the accepted ones, by code
     * @param  bool  $some  a group without cells keeps its own
     *
     * @throws CannotMatch a cell is not among them
     */
    public static function byHand(array $codes, array $cells, int $series, int $parallel, bool $some = false): self
    {
        $of = fn(string $code): DrawerCell => $cells[$code] ?? throw new CannotMatch("Cell $code is not among the accepted ones.");
        $groups = array_map(fn(array $g): array => array_map($of, $g), $codes);
        $best = array_map(fn(DrawerCell $c): float => $c->capacityAh, array_values($cells));
        rsort($best);
        $spares = array_values(array_diff_key($cells, array_flip(array_merge(...$codes))));

        $own = $some ? array_keys($groups, [], true) : [];
        $dealt = max(1, $series - count($own));

        return new self($groups, $spares, array_sum(array_slice($best, 0, $dealt * $parallel)) / $dealt, 'by hand', own: $own);
    }

    /** Ah of the smallest group that was dealt. */
    public function least(): float
    {
        $some = array_diff_key($this->totals, array_flip($this->own));

        return $some === [] ? 0.0 : min($some);
    }

    /** Uncertainty of a group total from the tests: what a gap well under it is not worth closing further. */
    public function sigmaTotal(): float
    {
        $worst = 0.0;
        foreach ($this->groups as $g) {
            // Half a percent of one tester's gain is common to all its cells.
            $common = CellLimits::COMMON_GAIN * array_sum(array_map(fn(DrawerCell $c): float => $c->capacityAh, $g));
            $worst = max($worst, sqrt($common ** 2 + array_sum(array_map(fn(DrawerCell $c): float => $c->capacitySigma ** 2, $g))));
        }

        return $worst;
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'way' => $this->way,
            // A group that was not dealt keeps the cells that it has, which nobody knows.
            'groups' => array_map(
                fn(array $g, int $k): array => [
                    'group' => $k + 1,
                    'cells' => array_map(fn(DrawerCell $c): string => $c->id, $g),
                    'capacity_ah' => round($this->totals[$k], 5),
                    'conductance_s' => round($this->conductances[$k], 4),
                    'mohm' => $g === [] ? 0.0 : round(1000 / $this->conductances[$k], 4),
                    'ratio' => round(self::ratio($g), 4),
                ],
                $some = array_diff_key($this->groups, array_flip($this->own)),
                array_keys($some),
            ),
            'spares' => array_map(fn(DrawerCell $c): string => $c->id, $this->spares),
            'smallest_ah' => round($this->least(), 5),
            'bound_ah' => round($this->bound, 5),
            'gap' => round($this->gap, 8),
            'conductance_spread' => round($this->conductanceSpread, 6),
            'worst_ratio' => round($this->worstRatio, 4),
            'sigma_total_ah' => round($this->sigmaTotal(), 4),
            'alike_ah' => round(DealOrder::alikeAh($this), 5),
            'lots' => $this->lots,
            'proven' => $this->proven,
        ];
    }

    /** @param  list<DrawerCell>  $cells  of one group */
    private static function ratio(array $cells): float
    {
        $r = array_map(fn(DrawerCell $c): float => $c->mohm, $cells);

        return $r === [] ? 1.0 : max($r) / max(Tiny::SLACK, min($r));
    }
}
