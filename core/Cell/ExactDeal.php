<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Maths\Tiny;

/** Small drawers by trying everything: the optimum, proven. */
final class ExactDeal
{
    private ?Deal $best = null;

    /** @var list<float>|null */
    private ?array $score = null;

    private function __construct(private readonly int $p, private readonly float $ratio, private readonly float $bound) {}

    /**
     * Every choice and every partition: smallest total, then conductance, then the ratio inside groups.
     *
     * @param  list<DrawerCell>  $cells
     */
    public static function best(array $cells, int $series, int $parallel, float $ratio, float $bound): ?Deal
    {
        $self = new self($parallel, $ratio, $bound);
        $self->walk($cells, array_fill(0, $series, []), 0, $series * $parallel);

        return $self->best;
    }

    /**
     * @param  list<DrawerCell>  $cells
     * @param  array<int, list<int>>  $groups  indexes dealt so far
     */
    private function walk(array $cells, array $groups, int $next, int $left): void
    {
        if ($left === 0) {
            $this->compare($cells, $groups);

            return;
        }
        if (count($cells) - $next < $left) {
            return;
        }
        $empty = false;
        foreach ($groups as $k => $g) {
            // Empty groups are alike: only the first of them is tried.
            if (count($g) >= $this->p || ($g === [] && $empty)) {
                continue;
            }
            $empty = $empty || $g === [];
            $more = $groups;
            $more[$k][] = $next;
            $this->walk($cells, $more, $next + 1, $left - 1);
        }
        if (count($cells) - $next - 1 >= $left) {
            $this->walk($cells, $groups, $next + 1, $left);
        }
    }

    /**
     * @param  list<DrawerCell>  $cells
     * @param  array<int, list<int>>  $groups
     */
    private function compare(array $cells, array $groups): void
    {
        $used = [];
        foreach ($groups as $g) {
            foreach ($g as $i) {
                $used[$i] = true;
            }
        }
        $spares = array_values(array_filter($cells, fn(int $i): bool => !isset($used[$i]), ARRAY_FILTER_USE_KEY));
        $deal = new Deal(
            array_values(array_map(fn(array $g): array => array_map(fn(int $i): DrawerCell => $cells[$i], $g), $groups)),
            $spares,
            $this->bound,
            'equal group totals',
        );
        $now = [round($deal->least(), 9), -round($deal->conductanceSpread, 9), -$deal->worstRatio];
        if ($deal->worstRatio <= $this->ratio + Tiny::CHANCE && ($this->score === null || $now > $this->score)) {
            $this->score = $now;
            $this->best = $deal;
        }
    }
}
