<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

use Heartwood\Core\Limits\VerdictLimits;

/**
 * Sets of one revision side by side: each group's distance from the middle of its set, and what its line over the sets does.
 * A leak is a slope from rest to rest, a resistance turns over with the current, an imbalance does neither (handbook
 * "Self-discharge", "Joint or cell resistance from current", "Rest spread").
 */
final readonly class SetsCompared
{
    /** Sets shown at the most, the latest: more do not fit side by side (assumed). */
    public const MOST = 8;

    /** Groups read in a set before it has a middle (assumed). */
    public const LEAST_GROUPS = 3;

    /**
     * @param  list<array{id: string, at: string, condition: string, amps: float, mv: list<?float>, sigma_mv: list<?float>}>  $columns
     *         millivolts of each group from the middle of its set, and 1 sigma of that
     */
    private function __construct(public array $columns) {}

    /**
     * @param  list<array{id: string, at: string, condition: string, amps: float, volts: list<?float>, sigma: list<?float>}>  $sets
     *         oldest first; volts and 1 sigma in V, current in A, in positive
     */
    public static function of(array $sets): self
    {
        $columns = [];
        foreach ($sets as $set) {
            $read = array_values(array_filter($set['volts'], fn(?float $v): bool => $v !== null));
            if (count($read) < self::LEAST_GROUPS) {
                continue;
            }
            sort($read);
            $half = intdiv(count($read), 2);
            $middle = count($read) % 2 === 1 ? $read[$half] : ($read[$half - 1] + $read[$half]) / 2;
            $columns[] = [
                'id' => $set['id'],
                'at' => $set['at'],
                'condition' => $set['condition'],
                'amps' => $set['amps'],
                'mv' => array_map(fn(?float $v): ?float => $v === null ? null : round(1000 * ($v - $middle), 2), $set['volts']),
                'sigma_mv' => array_map(fn(?float $s): ?float => $s === null ? null : round(1000 * $s, 2), $set['sigma']),
            ];
        }

        return new self(array_slice($columns, -self::MOST));
    }

    /** @return list<array{group: int, shape: SetsShape, mv: float}> a line for each group, in order; millivolts of what it does */
    public function groups(): array
    {
        $count = max([0, ...array_map(fn(array $c): int => count($c['mv']), $this->columns)]);
        $groups = [];
        for ($k = 0; $k < $count; $k++) {
            [$shape, $mv] = $this->shape($k);
            $groups[] = ['group' => $k + 1, 'shape' => $shape, 'mv' => round($mv, 1)];
        }

        return $groups;
    }

    /** @return list<string> the picture in words: a sentence for each group that is not level */
    public function said(): array
    {
        return array_values(
            array_filter(array_map(fn(array $g): ?string => $g['shape']->sentence($g['group'], $g['mv']), $this->groups())),
        );
    }

    /** @return array<string, mixed> as the screens draw it */
    public function toArray(): array
    {
        return [
            'columns' => $this->columns,
            'groups' => array_map(fn(array $g): array => [...$g, 'shape' => $g['shape']->value], $this->groups()),
            'said' => $this->said(),
        ];
    }

    /** @return array{SetsShape, float} */
    private function shape(int $k): array
    {
        $at = [];
        foreach ($this->columns as $c) {
            if (isset($c['mv'][$k])) {
                $at[] = ['mv' => $c['mv'][$k], 'sigma' => $c['sigma_mv'][$k] ?? 0.0, 'amps' => $c['amps']];
            }
        }
        $into = $out = null;
        $rests = [];
        foreach ($at as $c) {
            if (abs($c['amps']) < VerdictLimits::REST_A) {
                $rests[] = $c;
            } elseif ($c['amps'] > 0) {
                $into = $c;
            } else {
                $out = $c;
            }
        }
        if ($into !== null && $out !== null && self::stands($into) && self::stands($out) && $into['mv'] * $out['mv'] < 0) {
            return [SetsShape::Turns, $into['mv'] - $out['mv']];
        }
        if (count($rests) > 1) {
            [$first, $last] = [$rests[0], $rests[count($rests) - 1]];
            $change = $last['mv'] - $first['mv'];
            if (self::told($change, hypot($first['sigma'], $last['sigma']))) {
                return [$change < 0 ? SetsShape::Falls : SetsShape::Rises, $change];
            }
        }
        $far = array_filter($at, self::stands(...));
        $last = $at === [] ? 0.0 : $at[count($at) - 1]['mv'];
        $one = count(array_unique(array_map(fn(array $c): bool => $c['mv'] > 0, $far))) === 1;

        // What the handbook calls matched is level, however surely the meter tells it.
        $stands = $at !== [] && count($far) === count($at) && $one && abs($last) > 1000 * VerdictLimits::MATCHED_V;

        return [$stands ? SetsShape::Stands : SetsShape::Level, $last];
    }

    /** @param  array{mv: float, sigma: float, amps: float}  $c */
    private static function stands(array $c): bool
    {
        return self::told($c['mv'], $c['sigma']);
    }

    private static function told(float $mv, float $sigma): bool
    {
        return abs($mv) > max(VerdictLimits::SETS_LEAST_MV, VerdictLimits::SETS_SIGMAS * $sigma);
    }
}
