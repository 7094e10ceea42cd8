<?php

declare(strict_types=1);

namespace Heartwood\Core\Repair;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Diagnosis\UsableWindow;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Safety\SafetyState;

/** What can be done about the findings and what each way would bring (handbook "Repair options"). */
final readonly class Options
{
    /** Findings from this probability up call for an action. */
    private const ACT = 0.35;

    public function __construct(private PackSpec $pack, private PackEvidence $evidence, private ?UsableWindow $window)
    {
    }

    /**
     * Never one that the safety rules forbid: no recovery of a dead, shorted or reversed group or of one below its
     * floor, no charge as a pack over the spread limit, nothing but removal from quarantine.
     *
     * @param  list<Finding>  $findings
     * @return list<Option>
     */
    public function list(array $findings, SafetyState $safety): array
    {
        if ($safety === SafetyState::Quarantine) {
            return [new Option(RepairAction::Quarantine, [], null, [], why: 'Outside or in a fire-safe box, away from people.'), new Option(RepairAction::Recycle, [], null, [])];
        }
        if ($safety === SafetyState::Hold) {
            return [new Option(RepairAction::None, [], null, $this->codes($findings, []), why: 'On hold: nothing is done until a senior has released it.'), new Option(RepairAction::Recycle, [], null, [])];
        }
        $options = [];
        $fixed = [];
        // One weak joint is spread over the taps it may sit at: together they call for the work.
        $joints = array_sum(array_map(fn (Finding $f): float => $f->code === 'joint.high-resistance' ? $f->probability : 0.0, $findings));
        foreach ($findings as $f) {
            if (isset($this->evidence->retightened[$f->place->kind === 'joint' ? $f->place->number : -1])) {
                // Already done: it is watched.
                continue;
            }
            if ($f->probability < self::ACT && ! ($f->code === 'joint.high-resistance' && $joints >= self::ACT && $f->probability >= 0.12)) {
                continue;
            }
            foreach ($this->remedies($f, $findings) as $option) {
                $options[] = $option;
                $fixed[] = $f->code;
            }
        }
        $swing = $this->window === null ? null : $this->window->chargeAh + $this->window->dischargeAh;
        $stopped = array_filter($findings, fn (Finding $f): bool => $f->severity->value === 'stop' && $f->probability >= self::ACT) !== [];
        if (! $stopped) {
            $options[] = new Option(RepairAction::None, [], $swing, $this->codes($findings, []), why: 'As it stands.');
        }
        $worth = array_filter($options, fn (Option $o): bool => $o->action === RepairAction::ReplaceGroup);
        if (count($worth) < $this->pack->series && (count($worth) >= 2 || (count($worth) === 1 && $this->pack->series <= 3))) {
            $options[] = new Option(RepairAction::Donor, [], null, $this->codes($findings, []), 30, why: 'The groups that prove good can serve other packs.');
        }
        $options[] = new Option(RepairAction::Recycle, [], null, [], 10);

        if ($this->unbalanceable($findings)) {
            $options = array_values(array_filter($options, fn (Option $o): bool => $o->action !== RepairAction::Balance));
        }

        return $this->merged($options);
    }

    /**
     * @param  list<Finding>  $findings
     * @return list<Option>
     */
    private function remedies(Finding $f, array $findings): array
    {
        $k = $f->place->kind === 'group' ? $f->place->number : 0;
        $cells = $this->pack->parallel ?? 1;
        $replace = fn (string $why): Option => new Option(RepairAction::ReplaceGroup, [$f->place], $this->capacityWithout([$k]), [], 75, 24.0, $cells, $why);
        $floor = $this->pack->profile()->floorV;
        $volts = $k > 0 ? $this->evidence->groups[$k - 1]->restV : null;

        return match ($f->code) {
            'group.undercharged' => $this->mayBeDead($k, $findings) || ($volts !== null && $volts < $floor) ? [$replace('It may be shorted: not charged.')] : [
                new Option(RepairAction::ChargeGroup, [$f->place], $this->capacityWithout([]), [], 15, $this->fillHours($k), 0, 'It holds less charge but nothing else is wrong with it: top it singly, then watch.'),
            ],
            'group.overcharged' => $volts !== null && $volts > $this->pack->profile()->fullV
                ? [$replace('It has been past full.')]
                : [new Option(RepairAction::Balance, [$f->place], $this->capacityWithout([]), [], 15, 12.0, 0, 'Bleed it down to its neighbours.')],
            'group.self-discharge' => [
                $replace('A leaking cell does not heal.'),
                ...($this->mayBeDead($k, $findings) || ($volts !== null && $volts < $this->pack->lowCutV()) ? [] : [new Option(RepairAction::KeepWithTopup, [$f->place], $this->window === null ? null : $this->capacityWithout([]), ['group.self-discharge'], 10, 0.0, 0, 'Told, not advised: it must be topped up before the leak empties it.')]),
            ],
            'group.low-capacity', 'group.high-resistance' => [
                $replace('The weakest group sets what the pack holds.'),
                new Option(RepairAction::LighterDuty, [$f->place], $this->window === null ? null : $this->capacityWithout([]), [$f->code], 5, 0.0, 0, 'At a lower current it lasts longer; it stays the weakest.'),
            ],
            'group.missing-cell' => [
                new Option(RepairAction::Reweld, [$f->place], $this->capacityWithout([$k]), [], 30, 2.0, 0, 'If the cell itself proves good.'),
                new Option(RepairAction::ReplaceCell, [$f->place], $this->capacityWithout([$k]), [], 45, 24.0, 1, 'One cell, when the rest of the group prove good.'),
            ],
            'group.deep-discharged' => $volts !== null && $volts >= $floor && ! $this->mayBeDead($k, $findings)
                ? [
                    new Option(RepairAction::RecoverGroup, [$f->place], $this->capacityWithout([]), [], 60, 30.0, 0, 'Slowly, attended, and proved by the hold test afterwards.'),
                    $replace('The other school: replace anything that was that low.'),
                ]
                : [$replace('Below the floor: never revived.')],
            'group.dead', 'group.reversed' => [$replace('Never revived: the short and the copper stay.')],
            'joint.high-resistance' => [new Option(RepairAction::CleanJoint, [$f->place], $this->capacityWithout([]), [], 20, 0.5, 0, 'Clean, like metals, torque, read again.')],
            'bms.latched', 'bms.asleep' => [new Option(RepairAction::WakeBoard, [], $this->capacityWithout([]), [], 10, 0.0, 0, 'In order: charger, button, enable wire, reconnect.')],
            'bms.output-dead', 'bms.charge-dead', 'bms.trips-early', 'bms.bleed-stuck', 'bms.no-overcharge-cut', 'bms.drain', 'bms.limit-too-low' => [new Option(RepairAction::ReplaceBoard, [], $this->capacityWithout([]), [], 60, 1.0, 0, 'Pin check before it is plugged in.')],
            'path.fuse-open' => [new Option(RepairAction::RepairPath, [], $this->capacityWithout([]), [], 30, 0.0, 0, 'Find out why it opened, then a new fuse of the right rating. Never bridged.')],
            'path.switch-or-enable', 'path.connector', 'path.intermittent', 'sensor.temperature' => [new Option(RepairAction::RepairPath, [], $this->capacityWithout([]), [], 40, 0.0, 0, 'Repair the contact and write down what was found.')],
            'sense.open', 'sense.shifted' => [new Option(RepairAction::RepairSense, [$f->place], $this->capacityWithout([]), [], 25, 0.0, 0, 'Pin check before the board is plugged in.')],
            'charger.wrong-voltage', 'charger.wrong-profile', 'charger.dead' => [new Option(RepairAction::ReplaceCharger, [], $this->capacityWithout([]), [], 5, 0.0, 0, 'Take this charger out of use.')],
            'load.shorted', 'load.wiring', 'load.dead', 'load.exceeds-cells' => [new Option(RepairAction::RepairLoad, [], $this->capacityWithout([]), [], 45, 0.0, 0, 'Before the pack goes back.')],
            'gauge.stale' => [new Option(RepairAction::RelearnGauge, [], $this->capacityWithout([]), [], 15, 14.0, 0, 'Full, rest, empty, rest, full.')],
            'label.inconsistent' => [new Option(RepairAction::Relabel, [], null, [], 5, 0.0, 0, 'So that the next person is not misled.')],
            'pack.spread' => [new Option(RepairAction::Balance, [], $this->capacityWithout([]), [], 20, 12.0, 0, 'Each group singly first: never charged as a pack at this spread.')],
            default => [],
        };
    }

    /**
     * No charge into a group that may be shorted or reversed.
     *
     * @param  list<Finding>  $findings
     */
    private function mayBeDead(int $k, array $findings): bool
    {
        $recovery = $this->evidence->groups[$k - 1]->recovery ?? null;
        foreach ($findings as $f) {
            if ($f->place->isGroup($k) && in_array($f->code, ['group.dead', 'group.reversed'], true) && $f->probability >= 0.2) {
                return true;
            }
        }

        return $recovery === 'hangs' || $recovery === 'falls';
    }

    /**
     * Balancing is for sound groups that drifted apart: not while one is dead, reversed, deep-discharged,
     * leaking, or its reading is in doubt.
     *
     * @param  list<Finding>  $findings
     */
    private function unbalanceable(array $findings): bool
    {
        foreach ($this->evidence->groups as $e) {
            if ($e->doubtProbability >= 0.3) {
                return true;
            }
        }
        foreach ($findings as $f) {
            if ($f->probability >= 0.15 && in_array($f->code, ['group.dead', 'group.reversed', 'group.deep-discharged', 'group.self-discharge'], true)) {
                return true;
            }
        }

        return false;
    }

    /**
     * Amp-hours of the repaired pack: the weakest group, the repaired ones counted as good.
     *
     * @param  list<int>  $repaired
     */
    private function capacityWithout(array $repaired): ?float
    {
        $rated = $this->pack->groupCapacityAh();
        if ($rated === null) {
            return null;
        }
        $least = INF;
        foreach ($this->evidence->groups as $e) {
            $capacity = in_array($e->group, $repaired, true) || $e->capacity === null ? $rated : $e->capacityAh;
            $least = min($least, $capacity);
        }

        return is_finite($least) ? $least : $rated;
    }

    /** Hours at a fifth of capacity to bring a group to its neighbours. */
    private function fillHours(int $k): float
    {
        $e = $this->evidence->groups[$k - 1] ?? null;

        return $e?->charge === null ? 3.0 : max(0.5, round(5 * abs($e->charge) * 1.2, 1));
    }

    /**
     * @param  list<Finding>  $findings
     * @param  list<string>  $fixed
     * @return list<string>
     */
    private function codes(array $findings, array $fixed): array
    {
        $codes = [];
        foreach ($findings as $f) {
            if ($f->probability >= self::ACT && ! in_array($f->code, $fixed, true) && $f->severity->value !== 'note') {
                $codes[$f->code] = true;
            }
        }

        return array_keys($codes);
    }

    /**
     * The same action at several places is one option.
     *
     * @param  list<Option>  $options
     * @return list<Option>
     */
    private function merged(array $options): array
    {
        $out = [];
        foreach ($options as $o) {
            $same = $out[$o->action->value] ?? null;
            if ($same === null) {
                $out[$o->action->value] = $o;

                continue;
            }
            $places = [];
            foreach ([...$same->places, ...$o->places] as $p) {
                $places[$p->key()] = $p;
            }
            $groups = array_values(array_map(fn (Place $p): int => $p->number, array_filter($places, fn (Place $p): bool => $p->kind === 'group')));
            $ah = in_array($o->action, [RepairAction::ReplaceGroup, RepairAction::ReplaceCell, RepairAction::Reweld], true) ? $this->capacityWithout($groups) : ($same->usableAh ?? $o->usableAh);
            $out[$o->action->value] = new Option(
                $o->action, array_values($places), $ah, array_values(array_unique([...$same->leaves, ...$o->leaves])),
                $same->handsMinutes + $o->handsMinutes, max($same->waitHours, $o->waitHours), $same->cells + $o->cells, $same->why,
            );
        }

        return array_values($out);
    }
}
