<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

use Heartwood\Core\Diagnosis\PinStaircase;

/** The plug before it is plugged: pin by pin against what the taps stand at today. Anything but right is a stop. */
final class PinCheck
{
    /**
     * @param  list<float>  $groupsV  of every group today, from B-
     * @param  list<float|null>  $pins  volts against the negative end as read, in the plug's order
     * @param  bool  $fromPositive  the board's first pin is B+
     * @return array{kind: string, go: bool, text: string, pins: list<array{pin: int, expected_v: float, v: float|null, right: bool}>}
     */
    public static function of(array $groupsV, array $pins, bool $fromPositive = false): array
    {
        $stair = [0.0];
        foreach ($groupsV as $v) {
            $stair[] = $stair[count($stair) - 1] + $v;
        }
        $step = count($groupsV) > 0 ? $stair[count($stair) - 1] / count($groupsV) : 1.0;
        $want = $fromPositive ? array_reverse($stair) : $stair;
        $read = $fromPositive ? array_reverse($pins) : $pins;
        $result =
            count($pins) === count($stair)
                ? PinStaircase::classify($read, $stair, $step)
                : [
                    'kind' => 'wrong',
                    'text' => sprintf('%d pins were read and the plug has %d', count($pins), count($stair)),
                    'taps' => [],
                ];
        $rows = [];
        foreach ($want as $k => $v) {
            $is = $pins[$k] ?? null;
            $rows[] = [
                'pin' => $k + 1,
                'expected_v' => round($v, 3),
                'v' => $is,
                'right' => $is !== null && abs($is - $v) < 0.12 * $step + 0.005 * abs($v),
            ];
        }
        $go = $result['kind'] === 'right';

        return [
            'kind' => $result['kind'],
            'go' => $go,
            'text' => $go ? 'Every pin is where it belongs.' : 'Stop, do not plug it: ' . $result['text'] . '.',
            'pins' => $rows,
        ];
    }
}
