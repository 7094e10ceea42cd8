<?php

declare(strict_types=1);

namespace Tests\Core;

use Heartwood\Core\Drift\Point;
use Heartwood\Core\Drift\Verdict;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;

/** Readings of made-up packs in service, whose slope is known. */
final class DriftSeries
{
    public const ENDED = '2026-03-01T12:00:00Z';

    public static function pack(string $chemistry = 'nmc', int $series = 10): PackSpec
    {
        return PackSpec::from(new Fields(['chemistry' => $chemistry, 'series' => $series]));
    }

    public static function at(float $day): string
    {
        return gmdate('Y-m-d\TH:i:s\Z', strtotime(self::ENDED) + (int) round(86_400 * $day));
    }

    /**
     * One group falls behind the others from a spread that is there already.
     *
     * @param  list<float>  $days
     * @param  float  $mvPerDay  by which the spread widens
     * @param  callable(): float  $noise  mV on each group's reading
     * @return list<Point>
     */
    public static function of(
        array $days,
        float $mvPerDay,
        callable $noise,
        float $startMv = 8.0,
        float $resolutionV = 0.001,
        string $condition = 'rest',
        int $series = 10,
        float $middleV = 3.8,
    ): array {
        $out = [];
        foreach ($days as $day) {
            $groups = [];
            for ($k = 0; $k < $series; $k++) {
                $mv = ($k === 3 ? -$startMv - $mvPerDay * $day : 0.0) + $noise();
                $groups[] = round(($middleV + $mv / 1000) / $resolutionV) * $resolutionV;
            }
            $out[] = new Point(self::at($day), $condition, null, $groups, null, null, $resolutionV);
        }

        return $out;
    }

    /** @param  list<Point>  $points */
    public static function judge(array $points, string $chemistry = 'nmc', int $series = 10): Verdict
    {
        return Verdict::of(self::pack($chemistry, $series), self::ENDED, $points);
    }

    public static function plateauV(): float
    {
        return RestCurve::of(Chemistry::Lfp)->volts(0.6);
    }
}
