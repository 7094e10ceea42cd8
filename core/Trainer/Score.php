<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Fault\Family;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Limits\TrainerLimits;

/** How right an answer is against what was wrong: code, place, and how sure it was. */
final readonly class Score
{
    /**
     * @param  bool  $right  everything that is wrong is said, by its code, and nothing else but what follows from it
     * @param  bool  $placeRight  and each at its place
     */
    private function __construct(public bool $right, public bool $placeRight, public float $brier) {}

    /**
     * @param  list<array{code: string, where: array<string, int|string>|null, probability: float}>  $said
     * @param  list<array{code: string, where: array<string, int|string>|null}>  $truth
     */
    public static function of(array $said, array $truth): self
    {
        $meant = array_values(array_filter($said, fn(array $f): bool => $f['probability'] >= TrainerLimits::SAID));
        $true = array_column($truth, 'code');
        $codes = array_column($meant, 'code');
        // What follows from a fault by pencil and paper may be said beside it.
        $besides = array_filter($codes, fn(string $c): bool => !in_array($c, $true, true) && !self::follows($c));
        $left = array_filter($true, fn(string $c): bool => !in_array($c, $codes, true) && !($c === Attempt::PROTECTING));
        $right = $besides === [] && $left === [];
        $places = array_map(self::place(...), $truth);
        $elsewhere = array_filter(
            $meant,
            fn(array $f): bool => in_array($f['code'], $true, true) && !in_array(self::place($f), $places, true),
        );

        return new self($right, $right && $elsewhere === [], self::brier($said, $truth));
    }

    /**
     * Sum over every code and place that is said or true of the squared distance between its probability and what it is; what was
     * not said counts as nought.
     *
     * @param  list<array{code: string, where: array<string, int|string>|null, probability: float}>  $said
     * @param  list<array{code: string, where: array<string, int|string>|null}>  $truth
     */
    private static function brier(array $said, array $truth): float
    {
        $p = $o = [];
        foreach ($said as $f) {
            $key = self::place($f);
            $p[$key] = max($p[$key] ?? 0.0, $f['probability']);
        }
        foreach ($truth as $t) {
            $o[self::place($t)] = 1.0;
        }
        $sum = 0.0;
        foreach (array_keys($p + $o) as $key) {
            $sum += (($p[$key] ?? 0.0) - ($o[$key] ?? 0.0)) ** 2;
        }

        return $sum;
    }

    /** @param  array{code: string, where: array<string, int|string>|null, probability?: float}  $f */
    private static function place(array $f): string
    {
        return $f['code'] . ' ' . json_encode($f['where']);
    }

    /** Whether a code says how a pack stands, and nothing that is wrong with it by itself: nobody is asked for it. */
    public static function describes(string $code): bool
    {
        return self::follows($code) && Ailment::tryFrom($code) === null && $code !== Attempt::PROTECTING;
    }

    private static function follows(string $code): bool
    {
        return isset(Faults::all()[$code]) && Faults::of($code)->family() === Family::Derived;
    }
}
