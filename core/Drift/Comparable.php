<?php

declare(strict_types=1);

namespace Heartwood\Core\Drift;

use Heartwood\Core\Limits\DriftLimits;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\PackSpec;

/**
 * The readings of a pack in service that may be laid side by side, in order of time, and why the others may not: same condition, charge
 * within 5 % or at the top, after the first day (handbook "After the return: does the repair hold?").
 */
final readonly class Comparable
{
    private const DAY_S = 86_400.0;

    private const HOUR_S = 3_600.0;

    /**
     * @param  list<Point>  $points
     * @param  list<array{at: string, why: string}>  $leftOut
     */
    private function __construct(public array $points, public array $leftOut, public ?float $soc) {}

    /** @param  list<Point>  $points  in any order */
    public static function of(PackSpec $pack, float $workEndedS, array $points): self
    {
        usort($points, fn(Point $a, Point $b): int => [$a->time(), $a->at] <=> [$b->time(), $b->at]);
        $out = [];
        $left = function (Point $p, string $why) use (&$out): void {
            $out[] = ['point' => $p, 'why' => $why];
        };
        $by = [];
        foreach ($points as $p) {
            $after = $p->time() - $workEndedS;
            if ($after < 0) {
                $left($p, 'before the work was done');
            } elseif ($after < DriftLimits::SETTLES_H * self::HOUR_S) {
                $left($p, sprintf('within %.0f h after the work: cells still settle', DriftLimits::SETTLES_H));
            } elseif ($p->spreadV() === null) {
                $left($p, 'neither every group nor the highest and the lowest were read');
            } else {
                $by[$p->condition][] = $p;
            }
        }
        // The condition that was read most often; of two alike, the one that was read last.
        $condition = null;
        foreach ($by as $name => $list) {
            $best = $condition === null ? [] : $by[$condition];
            if ([count($list), self::lastS($list)] > [count($best), self::lastS($best)]) {
                $condition = $name;
            }
        }
        $kept = [];
        foreach ($by as $name => $list) {
            foreach ($list as $p) {
                if ($name === $condition) {
                    $kept[] = $p;
                } else {
                    $left($p, "read at another condition: $name, where most were read at $condition");
                }
            }
        }
        $charge = array_map(fn(Point $p): ?float => self::charge($pack, $p), $kept);
        $known = array_values(array_filter($charge, fn(?float $c): bool => $c !== null));
        $middle = $known === [] ? null : Robust::median($known);
        $used = [];
        foreach ($kept as $i => $p) {
            $c = $charge[$i];
            if ($c === null || $middle === null) {
                $left($p, 'its charge is not known');
            } elseif (abs($c - $middle) > DriftLimits::SOC_WITHIN + Tiny::SUM) {
                $left($p, sprintf('at %.0f %% charge, where most were read at %.0f %%', 100 * $c, 100 * $middle));
            } else {
                $used[] = $p;
            }
        }
        usort($out, fn(array $a, array $b): int => [$a['point']->time(), $a['point']->at] <=> [$b['point']->time(), $b['point']->at]);

        return new self($used, array_map(fn(array $o): array => ['at' => $o['point']->at, 'why' => $o['why']], $out), $middle);
    }

    /** Days from the end of the work. */
    public static function days(Point $p, float $workEndedS): float
    {
        return ($p->time() - $workEndedS) / self::DAY_S;
    }

    /** @param  list<Point>  $points  in order */
    private static function lastS(array $points): float
    {
        return $points === [] ? 0.0 : $points[count($points) - 1]->time();
    }

    /** Charge at which it was read, 0..1: as said; at the top when full; at rest from the middle group's curve; else not known. */
    private static function charge(PackSpec $pack, Point $p): ?float
    {
        return match (true) {
            $p->soc !== null => $p->soc,
            $p->condition === 'full' => 1.0,
            $p->condition === 'rest' && $p->middleV() !== null => RestCurve::of($pack->chemistry)->socAt($p->middleV()),
            default => null,
        };
    }
}
