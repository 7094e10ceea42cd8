<?php

declare(strict_types=1);

namespace Heartwood\Core\Fleet;

use Heartwood\Core\Limits\FleetLimits;
use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Maths\Tiny;

/**
 * One group of a pack that stays with its siblings, topped up by itself where it stands (handbook "Many packs of one owner"): what must be
 * measured before the supply is clipped on, when it is at its end, and whether it helped. Volts, amps, degrees Celsius.
 */
final readonly class InPlace
{
    /**
     * @param  float  $fullV  at which the supply stands
     * @param  float  $supplyA  and what it gives at the most
     * @param  float|null  $stopFromA  it ends when the current has fallen to between this ...
     * @param  float|null  $stopToA  ... and this
     */
    private function __construct(
        public float $fullV,
        public float $supplyA,
        public ?float $stopFromA,
        public ?float $stopToA,
        private float $mostA,
        private float $lowCutV,
        private bool $highVoltage,
    ) {}

    public static function of(Sibling $p, int $group, ?float $supplyA = null): self
    {
        $ah = $p->holds($group);
        $share = fn(float $hours): ?float => $ah === null ? null : $ah / $hours;

        return new self(
            $p->pack->workingFullV(),
            $supplyA ?? ($share(FleetLimits::TOP_AT_H) ?? 0.0),
            $share(FleetLimits::TOP_END_FROM_H),
            $share(FleetLimits::TOP_END_TO_H),
            JoinBack::mostChargeA($p->pack),
            $p->pack->lowCutV(),
            $p->pack->fullVolts() > VerdictLimits::HIGH_VOLTAGE_V,
        );
    }

    /**
     * What keeps it from being begun, by the field, each with the mend: nothing goes on before the pack is alone, without current, its
     * polarity read and its group the one that was meant.
     *
     * @param  float  $readV  the group as the wall has it
     * @param  float  $groupV  as a meter shows it at the clips
     * @param  float  $packA  through its terminals, siblings and load and charger off
     * @return array<string, string> by field
     */
    public function begin(float $readV, float $groupV, float $packA, float $ambientC, string $second): array
    {
        $out = [];
        if ($groupV < 0.0) {
            $out['group_v'] = 'The meter shows it reversed: turn the clips, or it is a reversed group and is replaced.';
        } elseif ($groupV < $this->lowCutV) {
            $out['group_v'] = sprintf('Under its low cut of %.2f V: it is recovered or replaced on the bench, not here.', $this->lowCutV);
        } elseif ($groupV >= $this->fullV) {
            $out['group_v'] = sprintf('It stands at its full %.2f V already.', $this->fullV);
        } elseif (abs($groupV - $readV) > FleetLimits::SAME_GROUP_V + Tiny::SUM) {
            $out['group_v'] = sprintf('The wall has %.3f V for this group: count to it again, or read the wall again.', $readV);
        }
        if (abs($packA) > FleetLimits::NO_CURRENT_A) {
            $out['pack_a'] = sprintf('%.2f A still flow: take off siblings, load and charger first.', $packA);
        }
        if ($ambientC < RunLimits::CHARGE_COLDEST_C) {
            $out['ambient_c'] = 'No lithium cell is charged under 0 degC: bring it into the warm first.';
        }
        if ($this->supplyA <= 0.0) {
            $out['supply_a'] = 'Say the amps at which the supply stands: what the group holds is not known.';
        } elseif ($this->supplyA > $this->mostA + Tiny::SLACK) {
            $out['supply_a'] = sprintf('Its cells take %.1f A at the most: set the supply lower.', $this->mostA);
        }
        if ($this->highVoltage && trim($second) === '') {
            $out['second'] = 'High voltage: name who stands by, with gloves and insulated tools on.';
        }

        return $out;
    }

    /**
     * What its end says: full where the current fell by itself, at full voltage; anything else is an end before that.
     *
     * @param  float  $fullV  at which the supply stood
     * @param  float|null  $stopFromA  from which it was to end, as it was planned
     * @return array{full: bool, text: string}
     */
    public static function ended(float $fullV, ?float $stopFromA, float $groupV, float $amps): array
    {
        $over = $groupV > $fullV + RunLimits::JOIN_OVER_FULL_V + Tiny::SLACK;
        $near = $groupV >= $fullV - FleetLimits::TOPPED_WITHIN_V - Tiny::SUM;
        $fell = $stopFromA === null || $amps <= $stopFromA + Tiny::SLACK;

        return match (true) {
            $over => [
                'full' => false,
                'text' => sprintf(
                    '%.3f V is over its full %.2f V: the supply stood too high. Bleed it down, and look at the group before it is used.',
                    $groupV,
                    $fullV,
                ),
            ],
            $near && $fell => [
                'full' => true,
                'text' => sprintf('Full: %.3f V, the current fell to %.2f A.', $groupV, $amps),
            ],
            default => [
                'full' => false,
                'text' => sprintf(
                    'Ended before it was full: %.3f V of %.2f V at %.2f A. It is topped up again, or read as it is.',
                    $groupV,
                    $fullV,
                    $amps,
                ),
            ],
        };
    }

    /**
     * Whether it helped, by the first reading of all groups after it: each group's millivolts from the middle of its own pack, for that
     * charge moved since says nothing of one group.
     *
     * @param  float  $beforeMv  from the middle, before
     * @param  float  $afterMv  from the middle, after
     * @return array{even: bool, text: string}
     */
    public static function helped(float $beforeMv, float $afterMv): array
    {
        $even = abs($afterMv) <= Fleet::MV * FleetLimits::TOP_FROM_V + Tiny::SLACK;

        return [
            'even' => $even,
            'text' => sprintf(
                '%+.0f mV from the middle before, %+.0f mV after: %s',
                $beforeMv,
                $afterMv,
                match (true) {
                    $even => 'even now.',
                    $afterMv > 0 => 'it stands high now: let the board bleed it at the top, and read it again.',
                    $afterMv <= $beforeMv => 'it did not help. Read it again in some days: a group that falls back leaks, or holds less.',
                    default => 'better, and not even yet: top it up again.',
                },
            ),
        ];
    }
}
