<?php

declare(strict_types=1);

namespace Heartwood\Core\Fleet;

use Heartwood\Core\Drift\Point;
use Heartwood\Core\Limits\FleetLimits;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Reading\RestSpread;

/**
 * Many packs of one owner side by side: the highest and the lowest group of all, who stands off, which group is topped up by itself and
 * with how much, what limits each pack (handbook "Many packs of one owner"). Millivolts from the middle of all groups.
 */
final readonly class Fleet
{
    public const MV = 1000.0;

    /** Digits behind the point of what is said. */
    private const DIGITS = 3;

    private const CANNOT_TELL = 'cannot-tell';

    /**
     * @param  non-empty-list<array{pack: Sibling, group: int, v: float}>  $groups  of all packs that were read
     * @param  list<Sibling>  $packs
     */
    private function __construct(public array $packs, private array $groups, public float $middleV, private ?float $supplyA) {}

    /**
     * @param  list<Sibling>  $packs
     * @param  float|null  $supplyA  at which a group is topped up; C/20 where nobody says
     * @return self|null null where no group of any was read
     */
    public static function of(array $packs, ?float $supplyA = null): ?self
    {
        $groups = [];
        foreach ($packs as $p) {
            foreach ($p->volts as $k => $v) {
                if ($v !== null) {
                    $groups[] = ['pack' => $p, 'group' => $k + 1, 'v' => $v];
                }
            }
        }

        return $groups === [] ? null : new self($packs, $groups, Robust::median(array_column($groups, 'v')), $supplyA);
    }

    /** Whether they may be laid side by side: one chemistry, one condition, and charge within 5 %. */
    public function isComparable(): bool
    {
        $first = $this->packs[0];
        [$most, $least] = [-INF, INF];
        foreach ($this->packs as $p) {
            $charge = $p->charge();
            if ($charge === null || $p->condition !== $first->condition || $p->pack->chemistry !== $first->pack->chemistry) {
                return false;
            }
            [$most, $least] = [max($most, $charge), min($least, $charge)];
        }

        return $most - $least <= FleetLimits::SOC_WITHIN + Tiny::SUM;
    }

    /** @return array{pack: Sibling, group: int, v: float} */
    public function highest(): array
    {
        $found = $this->groups[0];
        foreach ($this->groups as $g) {
            $found = $g['v'] > $found['v'] ? $g : $found;
        }

        return $found;
    }

    /** @return array{pack: Sibling, group: int, v: float} */
    public function lowest(): array
    {
        $found = $this->groups[0];
        foreach ($this->groups as $g) {
            $found = $g['v'] < $found['v'] ? $g : $found;
        }

        return $found;
    }

    /** Millivolts of a group's volts from the middle of all. */
    public function offMv(float $v): float
    {
        return self::MV * ($v - $this->middleV);
    }

    /**
     * Millivolts by which a pack stands off as a whole: the gain of the meter it was read by, or its charge, and no matter of one group.
     * Null where it is within what packs may differ.
     */
    public function shiftMv(Sibling $p): ?float
    {
        $read = $p->read();
        $shift = $read === [] ? 0.0 : Robust::median($read) - $this->middleV;

        return count($this->packs) < 2 || abs($shift) <= FleetLimits::SHIFT_V + Tiny::SUM ? null : self::MV * $shift;
    }

    /** Whether every group of a pack stands so near the middle of its own that nothing is to be wished for, and the meter saw it. */
    public static function isExcellent(Sibling $p, float $resolutionV): bool
    {
        $read = $p->read();
        if ($read === [] || count($read) !== count($p->volts) || $resolutionV > FleetLimits::EXCELLENT_V / 2) {
            return false;
        }
        $middle = Robust::median($read);

        return max(array_map(fn(float $v): float => abs($v - $middle), $read)) <= FleetLimits::EXCELLENT_V + Tiny::SUM;
    }

    /** @return list<array{pack: Sibling, group: int, off_mv: float, state: string}> each pack by its worst group, the worst first */
    public function ranked(): array
    {
        $worst = [];
        foreach ($this->groups as $g) {
            $key = spl_object_id($g['pack']);
            $off = $g['v'] - $this->middleV;
            if (!isset($worst[$key]) || abs($off) > abs($worst[$key]['off'])) {
                $worst[$key] = ['g' => $g, 'off' => $off];
            }
        }
        usort($worst, fn(array $a, array $b): int => [abs($b['off']), $a['g']['pack']->name] <=> [abs($a['off']), $b['g']['pack']->name]);

        return array_map(
            fn(array $w): array => [
                'pack' => $w['g']['pack'],
                'group' => $w['g']['group'],
                'off_mv' => $this->offMv($w['g']['v']),
                'state' => $this->state($w['g']['pack'], $w['g']['v']),
            ],
            $worst,
        );
    }

    /**
     * Groups that are topped up by themselves, in place, the one that lacks most first; those of which the curve tells no amount come last.
     *
     * @return list<array{pack: Sibling, group: int, ah: float|array{float, float}|null, hours: float|array{float, float}|null, order: int}>
     */
    public function topping(): array
    {
        $out = [];
        foreach ($this->isComparable() ? $this->groups : [] as $g) {
            // Under its low cut a group is a matter of the bench: recovered and proved, or replaced, and never topped up in place.
            if ($this->middleV - $g['v'] <= FleetLimits::TOP_FROM_V + Tiny::SUM || $g['v'] < $g['pack']->pack->lowCutV()) {
                continue;
            }
            $ah = $this->lacks($g);
            $amps = $this->supplyA ?? ($g['pack']->holds($g['group']) ?? 0.0) / FleetLimits::TOP_AT_H;
            $hours = fn(float $a): float => $a / $amps;
            $out[] = [
                'pack' => $g['pack'],
                'group' => $g['group'],
                'ah' => $ah,
                'hours' => $ah === null || $amps <= 0.0 ? null : (is_array($ah) ? [$hours($ah[0]), $hours($ah[1])] : $hours($ah)),
            ];
        }
        usort(
            $out,
            fn(array $a, array $b): int => [self::most($b['ah']), $a['pack']->name, $a['group']] <=> [
                self::most($a['ah']),
                $b['pack']->name,
                $b['group'],
            ],
        );

        return array_map(fn(array $t, int $i): array => $t + ['order' => $i + 1], $out, array_keys($out));
    }

    /** @return list<array{pack: Sibling, group: int, usable_ah: float, after_replacing_ah: float}> of packs whose groups were measured */
    public function limits(): array
    {
        $out = [];
        foreach ($this->packs as $p) {
            if ($p->ah === null || count($p->ah) < 2 || in_array(null, $p->ah, true)) {
                continue;
            }
            $ah = $p->ah;
            $least = min($ah);
            $group = (int) array_search($least, $ah, true);
            unset($ah[$group]);
            $out[] = ['pack' => $p, 'group' => $group + 1, 'usable_ah' => $least, 'after_replacing_ah' => min($ah)];
        }

        return $out;
    }

    /** @return list<string> how a group is topped up in place, in the order in which it is done */
    public static function inPlace(): array
    {
        return [
            'Rings and metal off, insulated tools, one conductor at a time; nobody sleeps near it, and its warmth can be read.',
            'Take the pack off its siblings and its load, and wait until it rests.',
            'Clip the supply to that one group, at its full voltage and no more than is said here; stay with it.',
            'Stop when the current has fallen to between C/20 and C/50: the other groups relax meanwhile.',
            'Let the board finish the rest at the top, then read every group again.',
            'Back beside its siblings by the join rule: alike in volts before anything is connected.',
        ];
    }

    /** @return array<string, mixed> as `fleet` gives it */
    public function toArray(?Spares $spares): array
    {
        return [
            'format' => 'heartwood.fleet-result',
            'version' => 1,
            'highest' => self::named($this->highest()),
            'lowest' => self::named($this->lowest()),
            'over_all_mv' => round(self::MV * ($this->highest()['v'] - $this->lowest()['v']), 3),
            'comparable' => $this->isComparable(),
            'ranked' => array_map(
                fn(array $r): array => [
                    'pack' => $r['pack']->name,
                    'group' => $r['group'],
                    'off_mv' => self::rounded($r['off_mv']),
                    'state' => $r['state'],
                ],
                $this->ranked(),
            ),
            'topping' => array_map(
                fn(array $t): array => [
                    'pack' => $t['pack']->name,
                    'group' => $t['group'],
                    'ah' => self::rounded($t['ah']),
                    'hours' => self::rounded($t['hours']),
                    'order' => $t['order'],
                ],
                $this->topping(),
            ),
            'limits' => array_map(
                fn(array $l): array => [
                    'pack' => $l['pack']->name,
                    'group' => $l['group'],
                    'usable_ah' => self::rounded($l['usable_ah']),
                    'after_replacing_ah' => self::rounded($l['after_replacing_ah']),
                ],
                $this->limits(),
            ),
            'spares' => $spares?->toArray(),
        ];
    }

    /**
     * @param  array{pack: Sibling, group: int, v: float}  $g
     * @return array{pack: string, group: int, v: float}
     */
    private static function named(array $g): array
    {
        return ['pack' => $g['pack']->name, 'group' => $g['group'], 'v' => $g['v']];
    }

    /**
     * @param  float|array{float, float}|null  $x
     * @return float|array{float, float}|null
     */
    private static function rounded(float|array|null $x): float|array|null
    {
        return is_array($x) ? [round($x[0], self::DIGITS), round($x[1], self::DIGITS)] : ($x === null ? null : round($x, self::DIGITS));
    }

    /** @param  float|array{float, float}|null  $ah */
    private static function most(float|array|null $ah): float
    {
        return is_array($ah) ? $ah[1] : $ah ?? -1.0;
    }

    /** What a group is by how far it stands from the middle of all. */
    private function state(Sibling $p, float $v): string
    {
        if (!$this->isComparable()) {
            return self::CANNOT_TELL;
        }
        $off = abs($v - $this->middleV);
        $last = RestSpread::lastLimit($p->pack->chemistry);
        $curve = RestCurve::of($p->pack->chemistry);
        if ($p->pack->chemistry->isPhosphate() && $off <= $last && ($curve->onPlateau($v) || $curve->onPlateau($this->middleV))) {
            return $off >= VerdictLimits::PLATEAU_APART_V - Tiny::SUM ? 'balance-before-use' : self::CANNOT_TELL;
        }
        foreach (RestSpread::LIMITS as $name => $limit) {
            if ($off <= ($name === 'balance-before-use' ? $last : $limit) + Tiny::SUM) {
                return $name;
            }
        }

        return 'do-not-charge';
    }

    /**
     * @param  array{pack: Sibling, group: int, v: float}  $g
     * @return float|array{float, float}|null amp-hours to the middle of all; from to on a flat curve; null: nothing tells
     */
    private function lacks(array $g): float|array|null
    {
        $holds = $g['pack']->holds($g['group']);
        if ($holds === null || !in_array($g['pack']->condition, ['rest', 'full'], true)) {
            return null;
        }
        $curve = RestCurve::of($g['pack']->pack->chemistry);
        if (!$curve->onPlateau($g['v']) && !$curve->onPlateau($this->middleV)) {
            return max(0.0, $curve->socAt($this->middleV) - $curve->socAt($g['v'])) * $holds;
        }
        $is = $curve->soc($g['v'], Point::RESOLUTION_V);
        $middle = $curve->soc($this->middleV, Point::RESOLUTION_V);

        return [max(0.0, $middle->low - $is->high) * $holds, max(0.0, $middle->high - $is->low) * $holds];
    }
}
