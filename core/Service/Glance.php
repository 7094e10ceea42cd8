<?php

declare(strict_types=1);

namespace Heartwood\Core\Service;

use Heartwood\Core\Drift\Point;
use Heartwood\Core\Limits\DriftLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\PackSpec;

/**
 * One mark of a pack on its band: where it should be, where it is. Beyond the band it is brought in. The band comes from chemistry, from
 * what was read, and from the last digit that the meter or display shows; what such a reading cannot see is said with it (handbook
 * "After the return: does the repair hold?"). Volts.
 */
final readonly class Glance
{
    /**
     * @param  'groups'|'halves'|'whole'  $kind  what was read
     * @param  float  $value  how far its groups, or its halves, are apart; the volts of the whole pack
     * @param  float  $should  where it should be
     * @param  float  $sees  the least by which one group may stand off and is seen
     * @param  bool  $flat  read where the curve says next to nothing of charge: inside the band means little
     */
    private function __construct(
        public string $kind,
        public float $value,
        public float $should,
        public float $low,
        public float $high,
        public float $sees,
        public bool $flat = false,
    ) {}

    /**
     * @param  array{float, float}|null  $halves  volts of the lower and of the upper half, read one after the other
     * @param  float|null  $packV  of the whole pack
     * @return self|null null where nothing of it was read
     */
    public static function of(PackSpec $pack, Point $p, ?array $halves, ?float $packV): ?self
    {
        // Both ends are rounded to the last digit.
        $step = $p->resolutionV;
        $spread = $p->spreadV();
        if ($spread !== null) {
            $flat =
                $p->condition !== 'full' &&
                $pack->chemistry->isPhosphate() &&
                RestCurve::of($pack->chemistry)->onPlateau((float) $p->middleV());

            return new self('groups', $spread, 0.0, 0.0, DriftLimits::SPREAD_V, DriftLimits::SPREAD_V + $step, $flat);
        }
        if ($halves !== null) {
            // An odd pack has a group more in its upper half.
            $lower = intdiv($pack->series, 2);
            $apart = $halves[1] - ($halves[0] * ($pack->series - $lower)) / max(1, $lower);
            $room = max(DriftLimits::HALVES_V, DriftLimits::HALVES_STEPS * $step);

            return new self('halves', $apart, 0.0, -$room, $room, $room);
        }
        if ($packV === null) {
            return null;
        }
        $n = $pack->series;
        [$low, $high] = [$pack->lowCutV(), $pack->highCutV()];
        $should = $pack->profile()->nominalV;
        if ($p->soc !== null && $p->condition === 'rest') {
            $curve = RestCurve::of($pack->chemistry);
            $should = $curve->volts($p->soc);
            $low = max($low, $curve->volts(max(0.0, $p->soc - DriftLimits::WHOLE_SOC)));
            $high = min($high, $curve->volts(min(1.0, $p->soc + DriftLimits::WHOLE_SOC)));
        }

        return new self('whole', $packV, $n * $should, $n * $low - $step, $n * $high + $step, $n * ($should - $low) + $step);
    }

    public function isInside(): bool
    {
        return $this->value >= $this->low - Tiny::SUM && $this->value <= $this->high + Tiny::SUM;
    }

    /** @return array<string, string|float|bool> kind, value_v, should_v, low_v, high_v, sees_v, flat, inside */
    public function toArray(): array
    {
        return [
            'kind' => $this->kind,
            'value_v' => round($this->value, 4),
            'should_v' => round($this->should, 4),
            'low_v' => round($this->low, 4),
            'high_v' => round($this->high, 4),
            'sees_v' => round($this->sees, 4),
            'flat' => $this->flat,
            'inside' => $this->isInside(),
        ];
    }
}
