<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Record\Fields;

/** A charge of a whole pack that the supply brought to its own end, as a test of the record: verdict and proof use it like any other. */
final class ChargeTest
{
    /** Digits of volts and ampere-hours that a meter gives. */
    private const DIGITS = 3;

    /**
     * @param  list<array<string, mixed>>  $samples  of the run, the last of them at its end: `a` amps, `g` volts of every group
     * @return array<string, mixed>|null a `charge` test without its kind; null where the run says nothing of how a charge ends
     */
    public static function of(string $kind, ?Why $why, float $ahIn, array $samples, int $series): ?array
    {
        if ($kind !== 'charge' || $why?->isGood() !== true || $samples === []) {
            return null;
        }
        $groups = null;
        foreach ($samples as $s) {
            $seen = (new Fields($s))->numbers('g');
            $groups = count($seen) === $series ? $seen : $groups;
        }
        $amps = (new Fields($samples[count($samples) - 1]))->float('a');

        return array_filter(
            [
                'stopped_by' => 'charger',
                'after_ah' => round(max(0.0, $ahIn), self::DIGITS),
                'groups_v' =>
                    $groups === null ? null : array_map(fn(?float $v): ?float => $v === null ? null : round($v, self::DIGITS), $groups),
                'current_a' => $amps === null ? null : round(abs($amps), self::DIGITS),
            ],
            fn(mixed $x): bool => $x !== null,
        );
    }
}
