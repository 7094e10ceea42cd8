<?php

declare(strict_types=1);

namespace App\Watch;

use Heartwood\Core\Reading\SteadyRule;
use Heartwood\Core\Record\Fields;

/** What a meter has shown since the last tap was taken, and whether it may be taken: the desk saw it, the rule is in core. */
final class MeterLook
{
    /**
     * @param  list<array{t: float, v: float|null}>  $series  volts that it has shown, oldest first, and when
     * @param  Fields  $in  what was taken last and what is known of the next tap, as the contract has it
     * @param  float  $fullV  of a full cell of this pack, volts
     * @return array<string, mixed>
     */
    public static function of(array $series, Fields $in, float $fullV): array
    {
        $last = $series[count($series) - 1] ?? ['t' => microtime(true), 'v' => null];
        $v = $last['v'];
        // Counts of the range that shows this value: five digits and a half on any bench meter, four on a hand meter.
        $resolution = $v === null ? 0.001 : (abs($v) <= 5 ? 0.0001 : (abs($v) <= 50 ? 0.001 : 0.01));
        $since = $in->float('since') ?? 0.0;
        $window = array_values(array_filter($series, fn(array $s): bool => $s['t'] > $since));
        $left = $in->float('left_v');
        // A probe that was lifted and set down between two looks was lifted all the same.
        $has =
            $in->bool('has_left') === true ||
            $left === null ||
            array_filter($window, fn(array $s): bool => SteadyRule::left($s['v'], $left, $resolution)) !== [];
        $rule = SteadyRule::judge(
            $window,
            $left,
            $has,
            $resolution,
            $in->float('before'),
            $in->float('typical'),
            $fullV,
            (int) $in->int('groups'),
        );
        $digits = $resolution < 0.0005 ? 4 : ($resolution < 0.005 ? 3 : 2);

        return [
            'now' => $last['t'],
            'v' => $v,
            'resolution_v' => $resolution,
            'has_left' => $has,
            'state' => $rule->state,
            'value' => $rule->v,
            'typed' => $rule->v === null ? null : number_format($rule->v, $digits, '.', ''),
            'text' => $rule->text,
            'kind' => $rule->kind,
        ];
    }
}
