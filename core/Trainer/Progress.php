<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Limits\TrainerLimits;
use Heartwood\Core\Maths\Beta;
use Heartwood\Core\Maths\Robust;

/** How somebody gets on: how often right, how sure and rightly so, how safe, how quick; and what that makes them ready for. */
final readonly class Progress
{
    /** Steps of sureness on the calibration curve. */
    private const STEPS = 5;

    /** Both ends of an interval of 90 %. */
    private const LOW = 0.05;

    private const HIGH = 0.95;

    /** What is believed of a share before anything was counted (Jeffreys): half a round of each. */
    private const HALF = 0.5;

    /** @param  list<Attempt>  $attempts  in the order in which they ended */
    public function __construct(private array $attempts) {}

    /** @return array{rounds: int, right: int, low: float, high: float}|null right by code and place, with its 90 % interval */
    public function accuracy(?int $fromLevel = null, ?int $toLevel = null): ?array
    {
        $of = array_filter(
            $this->attempts,
            fn(Attempt $a): bool => $a->level >= ($fromLevel ?? 1) && $a->level <= ($toLevel ?? TrainerLimits::LEVELS),
        );
        $right = count(array_filter($of, fn(Attempt $a): bool => $a->safe && $a->placeRight));

        return $of === [] ? null : ['rounds' => count($of), 'right' => $right] + self::interval($right, count($of));
    }

    /** @return list<array{from: float, to: float, n: int, stated: float, so: float, low: float, high: float}> only steps that were used */
    public function calibration(): array
    {
        $steps = [];
        foreach ($this->stated() as $s) {
            $steps[min(self::STEPS - 1, (int) floor($s['p'] * self::STEPS))][] = $s;
        }
        ksort($steps);
        $out = [];
        foreach ($steps as $i => $of) {
            $so = count(array_filter($of, fn(array $s): bool => $s['so']));
            $out[] =
                [
                    'from' => $i / self::STEPS,
                    'to' => ($i + 1) / self::STEPS,
                    'n' => count($of),
                    'stated' => array_sum(array_column($of, 'p')) / count($of),
                    'so' => $so / count($of),
                ] + self::interval($so, count($of));
        }

        return $out;
    }

    /** @return float|null by how much stated sureness and what was so lie apart, on the mean over all that was stated; null: nothing was */
    public function gap(): ?float
    {
        $n = count($this->stated());
        $apart = array_map(fn(array $c): float => $c['n'] * abs($c['stated'] - $c['so']), $this->calibration());

        return $n === 0 ? null : array_sum($apart) / $n;
    }

    /** @return float|null on the mean over all rounds */
    public function brier(): ?float
    {
        return $this->attempts === []
            ? null
            : array_sum(array_map(fn(Attempt $a): float => $a->brier, $this->attempts)) / count($this->attempts);
    }

    /** Rounds that ended by an unsafe act. */
    public function unsafe(): int
    {
        return count(array_filter($this->attempts, fn(Attempt $a): bool => !$a->safe));
    }

    /** Rounds since the last of them, or all. */
    public function safeInARow(): int
    {
        $n = 0;
        foreach (array_reverse($this->attempts) as $a) {
            if (!$a->safe) {
                break;
            }
            $n++;
        }

        return $n;
    }

    /** @return float|null times the tool's own line, in the middle of the rounds that were right; null where none was */
    public function pace(): ?float
    {
        $right = array_filter($this->attempts, fn(Attempt $a): bool => $a->safe && $a->placeRight && $a->bestSeconds > 0);

        return $right === []
            ? null
            : Robust::median(array_values(array_map(fn(Attempt $a): float => $a->seconds / $a->bestSeconds, $right)));
    }

    /**
     * How choices were carried out, over all rounds in which they were.
     *
     * @return array{rounds: int, supplies: int, returned: int, proved: int, unproved: int, with_fault: int}|null `supplies`: safe rounds
     *   with a run at the supply that came to its end; of those packs that went back: with everything proved, without, and with something
     *   still wrong; null: never
     */
    public function carried(): ?array
    {
        $ran = array_values(array_filter($this->attempts, fn(Attempt $a): bool => $a->ran !== null));
        $count = fn(\Closure $which): int => count(
            array_filter($ran, fn(Attempt $a): bool => $a->safe && $a->ran !== null && $which($a->ran)),
        );

        return $ran === []
            ? null
            : [
                'rounds' => count($ran),
                'supplies' => $count(fn(array $r): bool => $r['supplies'] > 0),
                'returned' => $count(fn(array $r): bool => $r['returned'] === true),
                'proved' => $count(self::good(...)),
                'unproved' => $count(fn(array $r): bool => $r['returned'] === true && !$r['proved']),
                'with_fault' => $count(fn(array $r): bool => $r['returned'] === true && $r['left'] > 0),
            ];
    }

    /** @param  array{supplies: int, returned: bool|null, proved: bool, left: int}  $ran */
    private static function good(array $ran): bool
    {
        return $ran['returned'] === true && $ran['proved'] && $ran['left'] === 0;
    }

    /** The level that the next round is offered at: one above the highest that is held. */
    public function level(): int
    {
        for ($level = TrainerLimits::LEVELS; $level >= 1; $level--) {
            $seen = $this->accuracy($level, $level);
            if (($seen['rounds'] ?? 0) >= TrainerLimits::LEVEL_ROUNDS && $seen['low'] >= TrainerLimits::LEVEL_RIGHT_LOW) {
                return min(TrainerLimits::LEVELS, $level + 1);
            }
        }

        return 1;
    }

    /**
     * Whether the rounds speak for a right. A right is given by a person, never by this.
     *
     * @return list<string> what is missing, a sentence each; none: ready
     */
    public function missingFor(string $right): array
    {
        $level = TrainerLimits::READY_LEVEL[$right];
        $seen = $this->accuracy($level);
        $rounds = $seen['rounds'] ?? 0;
        $short = TrainerLimits::READY_ROUNDS - $rounds;
        $missing = [];
        if ($short > 0) {
            $missing[] = sprintf('%d more round%s at level %d or higher.', $short, $short === 1 ? '' : 's', $level);
        }
        if ($seen !== null && $seen['low'] < TrainerLimits::READY_RIGHT_LOW) {
            $missing[] = sprintf(
                'Right in %d of %d there: that may be as little as %.0f %%, and %.0f %% is asked for.',
                $seen['right'],
                $seen['rounds'],
                100 * $seen['low'],
                100 * TrainerLimits::READY_RIGHT_LOW,
            );
        }
        $safe = $this->safeInARow();
        if ($safe < TrainerLimits::READY_SAFE) {
            $missing[] =
                $this->unsafe() === 0
                    ? sprintf('%d rounds without an unsafe act; %d are asked for.', $safe, TrainerLimits::READY_SAFE)
                    : sprintf(
                        'An unsafe act %d round%s ago; %d without one are asked for.',
                        $safe + 1,
                        $safe === 0 ? '' : 's',
                        TrainerLimits::READY_SAFE,
                    );
        }
        $carried = $this->carried();
        foreach (
            [
                'supplies' => [TrainerLimits::READY_SUPPLIES, 'carried out at the supply, safely and to the end'],
                'proved' => [TrainerLimits::READY_PROVED, 'that went back with everything proved and nothing left wrong'],
            ]
            as $of => [$wanted, $what]
        ) {
            $more = ($wanted[$right] ?? 0) - ($carried[$of] ?? 0);
            if ($more > 0) {
                $missing[] = sprintf('%d more round%s %s.', $more, $more === 1 ? '' : 's', $what);
            }
        }
        $gap = $this->gap();
        if ($gap !== null && $gap > TrainerLimits::READY_GAP) {
            $missing[] = sprintf(
                'Stated sureness is off by %.0f in a hundred on the mean; %.0f are let pass.',
                100 * $gap,
                100 * TrainerLimits::READY_GAP,
            );
        }

        return $missing;
    }

    /** @return list<array{p: float, so: bool}> */
    private function stated(): array
    {
        return array_merge(...array_map(fn(Attempt $a): array => $a->stated, $this->attempts));
    }

    /** @return array{low: float, high: float} */
    private static function interval(int $hits, int $of): array
    {
        $a = $hits + self::HALF;
        $b = $of - $hits + self::HALF;

        // At an end the interval has that end.
        return [
            'low' => $hits === 0 ? 0.0 : Beta::quantile(self::LOW, $a, $b),
            'high' => $hits === $of ? 1.0 : Beta::quantile(self::HIGH, $a, $b),
        ];
    }
}
