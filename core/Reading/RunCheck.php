<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

use Heartwood\Core\Maths\Robust;

/**
 * What closure cannot see: patterns in a run that has no redundancy. A probe that did not move, a tap read twice,
 * a tap that is off, swapped probes, two groups at one step (handbook "Readings as a network").
 */
final class RunCheck
{
    /** A reading that is a tenth of its neighbours, to this share, has lost its decimal point: how probably (assumed). */
    private const DECIMAL = 10.0;

    private const DECIMAL_NEAR = 0.01;

    private const DECIMAL_SLIPPED = 0.85;

    /** Volts of the neighbours from which that can be told. */
    private const WORTH_TELLING_V = 0.5;

    /** Volts that both groups at a tap are off from which the tap is asked about, one over and one under (assumed). */
    private const TAP_OFF_V = 0.06;

    /**
     * @param  list<NetworkReading>  $readings
     * @param  list<GroupVoltage>  $groups
     * @param  list<int>  $checked  groups whose own reading others confirm: no slip of sign there
     * @return list<Suspicion>
     */
    public static function examine(array $readings, array $groups, float $fullV, array $checked = []): array
    {
        $read = array_values(array_filter($groups, fn(GroupVoltage $g): bool => $g->volts !== null && $g->doubt === null));
        if ($read === []) {
            return [];
        }
        // Of two, the middle points at neither.
        $volts = array_map(fn(GroupVoltage $g): float => (float) $g->volts, $read);
        $typical = count($volts) === 2 ? max($volts) : Robust::median($volts);
        $out = [];
        $settled = [];
        // A board measures its taps: what it calls a group is a difference of two of them.
        $board = $readings !== [] && array_filter($readings, fn(NetworkReading $r): bool => !$r->board) === [];
        foreach ($read as $i => $g) {
            $next = $read[$i + 1] ?? null;
            if (
                isset($settled[$g->group]) ||
                $next === null ||
                $next->group !== $g->group + 1 ||
                (!$board && $g->across && $next->across)
            ) {
                continue;
            }
            $pair = self::tapOff($g, $next, $read, $typical, $fullV, $readings);
            if ($pair !== null) {
                $out[] = $pair;
                $settled[$g->group] = $settled[$next->group] = true;
            }
        }
        foreach ($read as $g) {
            if (isset($settled[$g->group])) {
                continue;
            }
            $v = (float) $g->volts;
            $tolerance = max(0.015, 3 * (float) $g->sigmaV);
            if (!$g->across && abs($v) < $tolerance && $typical > 0.5) {
                $out[] = new Suspicion(
                    'same-value',
                    self::at($readings, $g->group),
                    sprintf(
                        'Taps T%d and T%d read the same: either group %d is dead or the probe stayed on the same tap.',
                        $g->group - 1,
                        $g->group,
                        $g->group,
                    ),
                    ['from' => $g->group - 1, 'to' => $g->group],
                    0.5,
                    [$g->group],
                    $g->group,
                );
            } elseif ($v > 1.25 * $fullV) {
                $out[] = new Suspicion(
                    'impossible',
                    self::at($readings, $g->group),
                    sprintf(
                        'Group %d reads %.3f V, more than a cell can hold: %s.',
                        $g->group,
                        $v,
                        $v > 1.6 * $typical && $typical > 0.5 ? 'two groups at one step?' : 'a slip?',
                    ),
                    ['from' => $g->group - 1, 'to' => $g->group],
                    0.97,
                    [$g->group],
                    $g->group,
                );
            } elseif (
                !$board &&
                !in_array($g->group, $checked, true) &&
                $typical > self::WORTH_TELLING_V &&
                abs(self::DECIMAL * $v - $typical) < self::DECIMAL_NEAR * $typical
            ) {
                $out[] = new Suspicion(
                    'decimal',
                    self::at($readings, $g->group),
                    sprintf(
                        'Group %d reads %.3f V, a tenth of its neighbours: a decimal point slipped, or it is dead. Read it again ' .
                            'before it is called dead.',
                        $g->group,
                        $v,
                    ),
                    ['from' => $g->group - 1, 'to' => $g->group],
                    self::DECIMAL_SLIPPED,
                    [$g->group],
                );
            } elseif ($v < -0.5 * abs($typical) && $typical > 0.5 && !in_array($g->group, $checked, true)) {
                $out[] = new Suspicion(
                    'sign',
                    self::at($readings, $g->group),
                    sprintf('Group %d reads %.3f V: swap the probes and read it again before calling it reversed.', $g->group, $v),
                    ['from' => $g->group - 1, 'to' => $g->group],
                    abs($v + $typical) < 0.15 * $typical ? 0.9 : 0.5,
                    [$g->group],
                );
            }
        }

        $last = self::lastTap($read, $settled, $readings, $fullV);

        return $last === null ? $out : [...$out, $last];
    }

    /**
     * The last tap of a cumulative run has no neighbour after it: an odd last group and a slip at its tap look alike.
     *
     * @param  list<GroupVoltage>  $read
     * @param  array<int, bool>  $settled
     * @param  list<NetworkReading>  $readings
     */
    private static function lastTap(array $read, array $settled, array $readings, float $fullV): ?Suspicion
    {
        $last = $read[count($read) - 1];
        $others = array_map(fn(GroupVoltage $g): float => (float) $g->volts, array_slice($read, 0, -1));
        $touching = array_filter($readings, fn(NetworkReading $r): bool => $r->to === $last->group || $r->from === $last->group);
        if ($last->across || count($others) < 3 || isset($settled[$last->group]) || count($touching) !== 1) {
            return null;
        }
        $v = (float) $last->volts;
        $off = abs($v - Robust::median($others));
        if ($off < max(0.06, 4 * $last->ownSigmaV, 6 * Robust::spread($others, 0.0)) || abs($v) < 0.02 || $v > 1.25 * $fullV) {
            return null;
        }

        return new Suspicion(
            'last-tap',
            array_values($touching),
            sprintf(
                'Group %d is %.0f mV off, and no reading checks T%d: a slip there would look the same.',
                $last->group,
                1000 * $off,
                $last->group,
            ),
            ['from' => $last->group - 1, 'to' => $last->group],
            0.45,
            [$last->group],
            $last->group,
        );
    }

    /**
     * One group high and its neighbour low by the same amount: the tap between them, not the groups.
     *
     * @param  list<GroupVoltage>  $read
     * @param  list<NetworkReading>  $readings
     */
    private static function tapOff(GroupVoltage $a, GroupVoltage $b, array $read, float $typical, float $fullV, array $readings): ?Suspicion
    {
        $va = (float) $a->volts;
        $vb = (float) $b->volts;
        // A gain that differs between ranges moves one step, never two by the same amount: it does not count here.
        if (abs($va - $vb) < 2 * self::TAP_OFF_V) {
            return null;
        }
        $sigma = hypot($a->ownSigmaV, $b->ownSigmaV);
        $impossible = max($va, $vb) > 1.25 * $fullV || min($va, $vb) < -0.1 * $fullV;
        if (count($read) < 3 && !$impossible) {
            return null;
        }
        $others = array_values(array_filter($read, fn(GroupVoltage $g): bool => $g->group !== $a->group && $g->group !== $b->group));
        $centre = $others === [] ? ($va + $vb) / 2 : Robust::median(array_map(fn(GroupVoltage $g): float => (float) $g->volts, $others));
        $da = $va - $centre;
        $db = $vb - $centre;
        $delta = min(abs($da), abs($db));
        $spread = $others === [] ? 0.0 : Robust::spread(array_map(fn(GroupVoltage $g): float => (float) $g->volts, $others), 0.0);
        if (
            $da * $db >= 0 ||
            $delta < max(self::TAP_OFF_V, 4 * $sigma, 4 * $spread) ||
            abs($da + $db) > max(0.025, 3 * $sigma, 2.5 * $spread, 0.05 * $delta)
        ) {
            return null;
        }
        $tap = $a->group;
        $at = array_values(array_filter($readings, fn(NetworkReading $r): bool => $r->to === $tap || $r->from === $tap));
        $unmoved = $impossible && min(abs($va), abs($vb)) < max(0.03, 3 * $sigma);
        $board = $at !== [] && $at[0]->board;
        $text = $unmoved
            ? sprintf(
                'T%d reads the same as T%d and the other step is double: the probe was not on T%d. Read T%d again.',
                $tap,
                abs($va) < abs($vb) ? $tap - 1 : $tap + 1,
                $tap,
                $tap,
            )
            : sprintf(
                'Group %d is as much over as group %d is %s: %s tap T%d is off, not the groups.',
                $da > 0 ? $a->group : $b->group,
                $da > 0 ? $b->group : $a->group,
                'under',
                $board ? 'the board\'s lead at' : 'the probe at',
                $tap,
            );

        return new Suspicion(
            $board ? 'sense-lead' : ($unmoved ? 'unmoved' : 'tap-off'),
            $at,
            $text,
            ['from' => $a->group - 1, 'to' => $a->group],
            $impossible ? 0.97 : 0.8,
            [$a->group, $b->group],
            $tap,
        );
    }

    /**
     * @param  list<NetworkReading>  $readings
     * @return list<NetworkReading>
     */
    private static function at(array $readings, int $tap): array
    {
        return array_values(
            array_filter($readings, fn(NetworkReading $r): bool => $r->to === $tap || ($r->from === $tap - 1 && $r->to === $tap)),
        );
    }
}
