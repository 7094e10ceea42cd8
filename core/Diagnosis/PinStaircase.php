<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

/** Pin by pin against the expected staircase, before anything is plugged (handbook "Build sheet", pin check). */
final class PinStaircase
{
    /**
     * @param  list<float|null>  $pins  volts against the negative end, in the plug's order; null where nothing was read
     * @param  list<float>  $stair  volts expected at each tap, from 0
     * @param  float  $step  typical group voltage
     * @return array{kind: string, text: string, taps: list<int>} kind: right | reversed | swapped | missing | offset | polarity | wrong
     */
    public static function classify(array $pins, array $stair, float $step): array
    {
        $n = count($stair);
        $near = fn(?float $v, float $want): bool => $v !== null && abs($v - $want) < 0.12 * $step + 0.005 * abs($want);
        /** @param  list<float>  $want */
        $all = fn(float ...$want): bool => count($pins) === $n &&
            array_filter($pins, fn(?float $v, int $i): bool => !$near($v, $want[$i]), ARRAY_FILTER_USE_BOTH) === [];
        if ($all(...$stair)) {
            return ['kind' => 'right', 'text' => 'every pin is where it belongs', 'taps' => []];
        }
        if ($all(...array_map(fn(float $v): float => -$v, $stair))) {
            return [
                'kind' => 'polarity',
                'text' => 'every pin reads with the wrong sign: positive and negative are exchanged',
                'taps' => [],
            ];
        }
        if ($all(...array_reverse($stair)) || $all(...array_map(fn(float $v): float => $v - $stair[$n - 1], array_reverse($stair)))) {
            return ['kind' => 'reversed', 'text' => 'the staircase runs from the other end: the plug is reversed', 'taps' => []];
        }
        $wrong = [];
        for ($i = 0; $i < $n; $i++) {
            if (!$near($pins[$i] ?? null, $stair[$i])) {
                $wrong[] = $i;
            }
        }
        if (
            count($wrong) === 2 &&
            $near($pins[$wrong[0]] ?? null, $stair[$wrong[1]]) &&
            $near($pins[$wrong[1]] ?? null, $stair[$wrong[0]])
        ) {
            return ['kind' => 'swapped', 'text' => "pins of taps {$wrong[0]} and {$wrong[1]} are exchanged", 'taps' => $wrong];
        }
        $empty = array_values(
            array_filter($wrong, fn(int $i): bool => ($pins[$i] ?? null) === null || ($i > 0 && abs((float) $pins[$i]) < 0.3 * $step)),
        );
        if ($wrong !== [] && count($empty) === count($wrong) && count($wrong) <= 2) {
            return ['kind' => 'missing', 'text' => 'nothing at the pin of tap ' . implode(' and ', $empty), 'taps' => $empty];
        }
        foreach ([1, -1] as $by) {
            $fits = 0;
            for ($i = 0; $i < $n; $i++) {
                if (isset($stair[$i + $by]) && $near($pins[$i] ?? null, $stair[$i + $by])) {
                    $fits++;
                }
            }
            if ($fits >= $n - 1) {
                return ['kind' => 'offset', 'text' => 'every pin sits one place off', 'taps' => []];
            }
        }

        return [
            'kind' => 'wrong',
            'text' => 'the pins do not follow the staircase at tap ' . implode(', ', array_slice($wrong, 0, 4)),
            'taps' => $wrong,
        ];
    }
}
