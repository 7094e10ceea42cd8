<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Maths\Tiny;

/** Cells that may take one cell's place in its group (handbook "Grading and matching"). */
final class Substitute
{
    public const LEAST_CAPACITY = 0.95;

    public const LEAST_RESISTANCE = 0.88;

    public const MOST_RESISTANCE = 1.14;

    /**
     * @param  list<DrawerCell>  $drawer
     * @param  list<DrawerCell>  $group  the cells that stay; none: it is compared with the one that fell out
     * @return list<array{cell: DrawerCell, fits: bool, why: list<string>}> best first; those that do not fit with the reason
     */
    public static function find(array $drawer, array $group, DrawerCell $lost): array
    {
        $mean =
            $group === [] ? $lost->capacityAh : array_sum(array_map(fn(DrawerCell $c): float => $c->capacityAh, $group)) / count($group);
        // Against the group that takes it: what fell out may have risen long before. Alone, against what it was.
        $ohm = $group === [] ? $lost->mohm : Robust::median(array_map(fn(DrawerCell $c): float => $c->mohm, $group));
        $volts = $group === [] ? $lost->restV : $group[0]->restV;
        $out = [];
        foreach ($drawer as $c) {
            $why = [];
            if ($c->chemistry !== $lost->chemistry || ($c->fullV ?? 0.0) !== ($lost->fullV ?? 0.0)) {
                $why[] = 'another chemistry or full voltage';
            }
            if ($c->capacityAh < self::LEAST_CAPACITY * $mean) {
                $why[] = sprintf('%.2f Ah, at least %.2f Ah wanted', $c->capacityAh, self::LEAST_CAPACITY * $mean);
            }
            $ratio = $c->mohm / max(Tiny::SLACK, $ohm);
            if ($ratio < self::LEAST_RESISTANCE || $ratio > self::MOST_RESISTANCE) {
                $why[] = sprintf(
                    'resistance %.2f times its group\'s, %.2f to %.2f wanted',
                    $ratio,
                    self::LEAST_RESISTANCE,
                    self::MOST_RESISTANCE,
                );
            }
            if ($lost->maxA !== null && ($c->maxA ?? 0.0) < $lost->maxA) {
                $why[] = 'lower current rating';
            }
            if ($volts !== null && $c->restV !== null && abs($c->restV - $volts) > RunLimits::JOIN_DIRECT_V) {
                $why[] = sprintf('%.0f mV from its group: bring it to %.3f V first', 1000 * abs($c->restV - $volts), $volts);
            }
            $out[] = ['cell' => $c, 'fits' => $why === [], 'why' => $why];
        }
        usort(
            $out,
            fn(array $a, array $b): int => [count($a['why']), abs($a['cell']->capacityAh - $mean), $a['cell']->id] <=> [
                count($b['why']),
                abs($b['cell']->capacityAh - $mean),
                $b['cell']->id,
            ],
        );

        return $out;
    }
}
