<?php

declare(strict_types=1);

namespace Heartwood\Core\Batch;

use Heartwood\Core\Limits\BatchLimits;
use Heartwood\Core\Maths\Robust;

/**
 * Which packs of a lot are questionable: each figure against the others' of the lot, not against its own pack's. What all have in common,
 * such as a group that is low in every one of them, is how the lot is (handbook "Batches"). Median and median deviation, so that the odd
 * ones do not set the measure (B. Iglewicz and D. Hoaglin, How to Detect and Handle Outliers, 1993).
 */
final class OddOnes
{
    /** Turns of the polish: the second finds what the first left. */
    private const TURNS = 2;

    /**
     * @param  array<int, LotFacts>  $facts  by pack
     * @return array<int, list<Odd>> by pack, the oddest figure first
     */
    public static function of(array $facts): array
    {
        $out = [];
        foreach (Quantity::cases() as $q) {
            if ($q === Quantity::Group) {
                continue;
            }
            self::add($out, self::among($q, null, array_map(fn(LotFacts $f): ?float => $f->value($q), $facts)));
        }
        [$offs, $groups] = self::offs($facts);
        for ($k = 1; $k <= $groups; $k++) {
            self::add($out, self::among(Quantity::Group, $k, array_map(fn(array $o): ?float => $o[$k - 1] ?? null, $offs)));
        }
        foreach ($out as &$odd) {
            usort($odd, fn(Odd $a, Odd $b): int => abs($b->z) <=> abs($a->z));
        }

        return $out;
    }

    /**
     * Volts of each group from the middle of its own pack, the middle taken after what all packs of the lot have in common: one group that
     * is off in a pack of few moves no other (median polish: J. Tukey, Exploratory Data Analysis, 1977).
     *
     * @param  array<int, LotFacts>  $facts
     * @return array{array<int, list<float|null>>, int} by pack; the most groups of one
     */
    private static function offs(array $facts): array
    {
        $packs = array_filter(array_map(fn(LotFacts $f): array => $f->groupsV, $facts), fn(array $v): bool => self::read($v) !== []);
        $groups = max([0, ...array_map(count(...), $packs)]);
        $middle = array_map(fn(array $v): float => self::median($v), $packs);
        for ($turn = 0; $turn < self::TURNS; $turn++) {
            $common = [];
            for ($k = 0; $k < $groups; $k++) {
                $common[$k] = self::median(
                    array_map(fn(array $v, float $m): ?float => isset($v[$k]) ? $v[$k] - $m : null, $packs, $middle),
                );
            }
            foreach ($packs as $id => $v) {
                $middle[$id] = self::median(
                    array_map(fn(?float $x, float $c): ?float => $x === null ? null : $x - $c, $v, array_slice($common, 0, count($v))),
                );
            }
        }

        return [
            array_combine(
                array_keys($packs),
                array_map(
                    fn(array $v, float $m): array => array_map(fn(?float $x): ?float => $x === null ? null : $x - $m, $v),
                    $packs,
                    $middle,
                ),
            ),
            $groups,
        ];
    }

    /**
     * @param  array<array-key, float|null>  $values
     * @return list<float>
     */
    private static function read(array $values): array
    {
        return array_values(array_filter($values, fn(?float $v): bool => $v !== null));
    }

    /** @param  array<array-key, float|null>  $values */
    private static function median(array $values): float
    {
        $read = self::read($values);

        return $read === [] ? 0.0 : Robust::median($read);
    }

    /**
     * @param  array<int, list<Odd>>  $out
     * @param  list<Odd>  $found
     */
    private static function add(array &$out, array $found): void
    {
        foreach ($found as $odd) {
            $out[$odd->pack][] = $odd;
        }
    }

    /**
     * @param  array<int, float|null>  $values  by pack
     * @return list<Odd>
     */
    private static function among(Quantity $q, ?int $group, array $values): array
    {
        $known = array_filter($values, fn(?float $v): bool => $v !== null);
        if (count($known) < BatchLimits::ODD_FROM) {
            return [];
        }
        $middle = Robust::median(array_values($known));
        $spread = Robust::spread(array_values($known), $q->leastSpread($middle));
        $out = [];
        foreach ($known as $pack => $v) {
            $z = $spread > 0.0 ? ($v - $middle) / $spread : 0.0;
            if (abs($z) > BatchLimits::ODD_Z && ($q->bad() === 0 || $q->bad() === ($z > 0 ? 1 : -1))) {
                $out[] = new Odd($pack, $q, $group, $v, $middle, $z);
            }
        }

        return $out;
    }
}
