<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Pack\RestCurve;

/**
 * Whether two cells, groups or packs may be put in parallel now, and how (handbook "Joining cells or packs in
 * parallel"): directly, through a resistor sized to half the recipient's charge current, or not before both stand at
 * one voltage. Leaving them to equalise through the joint is not among the answers.
 */
final readonly class JoinRule
{
    /** Hours after which settling is given up. */
    private const LONGEST_H = 48;

    /**
     * @param  'direct'|'resistor'|'charge-first'|'refused'  $way
     * @param  float  $inrushA  at the moment of joining without a resistor
     * @param  float|null  $ohm  of the resistor
     * @param  float|null  $watt  it takes at the first moment
     * @param  float|null  $minutes  until both stand within 50 mV
     */
    private function __construct(
        public string $way,
        public float $deltaV,
        public float $inrushA,
        public ?float $ohm,
        public ?float $watt,
        public ?float $minutes,
        public string $text,
    ) {}

    /**
     * @param  JoinSide  $a  one side
     * @param  JoinSide  $b  the other
     * @param  int  $series  groups in series of each (1 for cells)
     * @param  float  $jointOhm  leads and joint
     */
    public static function check(JoinSide $a, JoinSide $b, int $series = 1, float $jointOhm = 0.002): self
    {
        $delta = abs($a->volts - $b->volts);
        $refused =
            $a->chemistry !== $b->chemistry
                ? sprintf('One side is %s, the other %s: only one chemistry is joined', $a->chemistry->value, $b->chemistry->value)
                : $a->refuses($series) ?? $b->refuses($series);
        if ($refused !== null) {
            return new self('refused', $delta, 0.0, null, null, null, "$refused.");
        }
        $curve = RestCurve::of($a->chemistry);
        [$giver, $taker] = $a->volts >= $b->volts ? [$a, $b] : [$b, $a];
        $inrush = $delta / max(Tiny::SUM, $a->ohm + $b->ohm + $jointOhm);
        $limit = min($a->maxChargeA, $b->maxChargeA);
        if ($delta <= RunLimits::JOIN_DIRECT_V && $inrush <= $limit) {
            return new self(
                'direct',
                $delta,
                $inrush,
                null,
                null,
                null,
                sprintf('%.0f mV apart, %.1f A at the first moment, %.1f A allowed: join directly.', 1000 * $delta, $inrush, $limit),
            );
        }
        $wanted = $taker->maxChargeA / 2;
        $ohm = max(0.0, $delta / max(Tiny::SUM, $wanted) - $a->ohm - $b->ohm);
        $minutes = self::settle($giver, $taker, $curve, $series, $ohm);
        $watt = $wanted * $wanted * $ohm;
        $why =
            $delta > RunLimits::JOIN_DIRECT_V
                ? sprintf('%.0f mV apart', 1000 * $delta)
                : sprintf('only %.0f mV apart, but %.1f A at the first moment and %.1f A allowed', 1000 * $delta, $inrush, $limit);
        if ($minutes !== null && $minutes < RunLimits::JOIN_LEAST_MIN) {
            return new self(
                'charge-first',
                $delta,
                $inrush,
                $ohm,
                $watt,
                null,
                sprintf(
                    '%s: through a resistor it would be over in %.0f s, which nobody can watch. Bring both to one voltage with a ' .
                        'supply first.',
                    $why,
                    60 * $minutes,
                ),
            );
        }
        if ($minutes === null || $watt > RunLimits::JOIN_MOST_W) {
            return new self(
                'charge-first',
                $delta,
                $inrush,
                $ohm,
                $watt,
                null,
                sprintf(
                    '%s: %s. Bring both to one voltage with a supply first.',
                    $why,
                    $minutes === null
                        ? 'through a resistor it would take over two days'
                        : sprintf('a resistor would have to take %.0f W', $watt),
                ),
            );
        }

        return new self(
            'resistor',
            $delta,
            $inrush,
            $ohm,
            $watt,
            $minutes,
            sprintf(
                '%s, %.0f A without a resistor: join through %.2f ohm (%.1f W at first) for %.0f min, read both again, then directly.',
                $why,
                $inrush,
                $ohm,
                $watt,
                ceil($minutes),
            ),
        );
    }

    /** Minutes until the rest voltages are within the direct limit, by stepping both along the curve; null over 48 h. */
    private static function settle(JoinSide $giver, JoinSide $taker, RestCurve $curve, int $series, float $ohm): ?float
    {
        $x = $curve->socAt($giver->volts / $series);
        $y = $curve->socAt($taker->volts / $series);
        $total = max(Tiny::SUM, $ohm + $giver->ohm + $taker->ohm);
        $dt = 2.0;
        for ($t = 0.0; $t < self::LONGEST_H * 3600; $t += $dt) {
            $delta = $series * ($curve->volts($x) - $curve->volts($y));
            if ($delta <= RunLimits::JOIN_DIRECT_V) {
                return $t / 60;
            }
            $ah = (($delta / $total) * $dt) / 3600;
            $x -= $ah / $giver->capacityAh;
            $y += $ah / $taker->capacityAh;
        }

        return null;
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'way' => $this->way,
            'delta_v' => round($this->deltaV, 4),
            'inrush_a' => round($this->inrushA, 2),
            'ohm' => $this->ohm === null ? null : round($this->ohm, 3),
            'watt' => $this->watt === null ? null : round($this->watt, 2),
            'minutes' => $this->minutes === null ? null : round($this->minutes, 1),
            'text' => $this->text,
        ];
    }
}
