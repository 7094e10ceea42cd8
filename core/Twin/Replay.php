<?php

declare(strict_types=1);

namespace Heartwood\Core\Twin;

use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Repair\Option;
use Heartwood\Core\Repair\RepairAction;

/** What the customer saw, run again on the job's own estimate; and what each option would change about it. */
final readonly class Replay
{
    private const STEP_S = 10.0;

    private float $chargeA;

    private float $loadA;

    /** @param  TwinPack|null  $others  the pack without what it gave as a whole, for the groups beside one that is replaced */
    public function __construct(private PackSpec $spec, private TwinPack $pack, private ?TwinPack $others = null)
    {
        $capacity = $spec->groupCapacityAh() ?? PackSpec::UNKNOWN_AH;
        $this->chargeA = $spec->charger->float('cc_a') ?? min($spec->bms->float('charge_limit_a') ?? 1e9, $capacity / 5);
        $this->loadA = max(0.2 * $capacity, min($spec->load->float('controller_limit_a') ?? 1e9, 0.5 * $capacity));
    }

    /** From the state as it is: the charger put on. */
    public function charge(?TwinPack $pack = null): Run
    {
        $pack ??= $this->pack;
        $cv = $this->spec->charger->float('cv_v') ?? $this->spec->series * $this->spec->workingFullV();

        return Twin::run(
            $pack,
            Step::charge(
                $this->chargeA,
                min($cv, $this->spec->series * $this->spec->workingFullV()),
                ($this->spec->groupCapacityAh() ?? PackSpec::UNKNOWN_AH) / 20,
            ),
            self::STEP_S,
        );
    }

    /** From the state as it is: the device switched on. */
    public function discharge(?TwinPack $pack = null): Run
    {
        return Twin::run($pack ?? $this->pack, Step::discharge($this->loadA), self::STEP_S);
    }

    public function sentence(): string
    {
        return ucfirst($this->charge()->sentence()) . '; ' . $this->discharge()->sentence() . '.';
    }

    /** Charged until something stops it, then discharged until something stops it: the amp-hours that a person gets. */
    public function usable(TwinPack $pack): Run
    {
        $full = $this->charge($pack);

        // An hour of rest lets the pairs die away, as between charger and road.
        return $this->discharge($pack->at($full->leftCharge));
    }

    /**
     * The pack as it would be after an option; null for options that leave no pack to run.
     */
    public function after(Option $option): ?TwinPack
    {
        return $this->afterAll([$option]);
    }

    /**
     * The pack as it would be after several options, one after another; null when one of them leaves no pack to run.
     *
     * @param  list<Option>  $options  in the order in which they are done
     */
    public function afterAll(array $options): ?TwinPack
    {
        $anew = [RepairAction::ReplaceGroup, RepairAction::ReplaceCell, RepairAction::Reweld];
        $replaces = array_filter($options, fn(Option $o): bool => in_array($o->action, $anew, true)) !== [];
        // What the pack gave as a whole says nothing of the groups beside one that is replaced.
        $pack = $replaces ? $this->others ?? $this->pack : $this->pack;
        foreach ($options as $o) {
            $pack = $this->applied($pack, $o);
            if ($pack === null) {
                return null;
            }
        }

        return $pack;
    }

    private function applied(TwinPack $pack, Option $option): ?TwinPack
    {
        $groups = array_values(
            array_map(fn(Place $p): int => $p->number, array_filter($option->places, fn(Place $p): bool => $p->kind === 'group')),
        );
        $rated = $this->spec->groupCapacityAh() ?? PackSpec::UNKNOWN_AH;
        $others = array_values(array_diff_key($pack->charge, array_flip(array_map(fn(int $k): int => $k - 1, $groups))));
        $middle = $others === [] ? 0.5 : Robust::median($others);
        $healthy = Robust::median($this->pack->ohm === [] ? [0.01] : $this->pack->ohm);

        return match ($option->action) {
            RepairAction::None, RepairAction::Relabel, RepairAction::KeepWithTopup, RepairAction::LighterDuty => $pack,
            RepairAction::ChargeGroup => $pack->with($groups, ['charge' => $middle]),
            RepairAction::Balance => $pack->at(
                array_fill(0, $pack->series(), Robust::median($pack->charge === [] ? [0.5] : $pack->charge)),
            ),
            RepairAction::RecoverGroup => $pack->with($groups, ['charge' => $middle]),
            RepairAction::ReplaceGroup => $pack->with($groups, [
                'charge' => $middle,
                'capacity' => $rated,
                'ohm' => $healthy,
                'leak' => 0.0,
            ]),
            RepairAction::ReplaceCell, RepairAction::Reweld => $pack->with($groups, [
                'capacity' => $rated,
                'ohm' => $healthy,
            ]),
            RepairAction::CleanJoint => $pack->with(range(1, max(1, $this->pack->series())), ['ohm' => $healthy]),
            RepairAction::Rebuild => $pack->with(range(1, max(1, $this->pack->series())), [
                'charge' => $middle,
                'capacity' => $rated,
                'ohm' => $healthy,
                'leak' => 0.0,
            ]),
            RepairAction::Donor, RepairAction::Recycle, RepairAction::Quarantine => null,
            default => $pack,
        };
    }

    /**
     * Amp-hours after replacing the 0, 1, 2 ... weakest groups, to the first step that adds under 3 %.
     *
     * @return list<array{replaced: int, groups: list<int>, usable_ah: float}>
     */
    public function replaceWeakest(): array
    {
        $capacity = $this->pack->capacityAh;
        asort($capacity);
        $order = array_map(fn(int $i): int => $i + 1, array_keys($capacity));
        $rated = $this->spec->groupCapacityAh() ?? PackSpec::UNKNOWN_AH;
        $level = $this->pack->at(array_fill(0, $this->pack->series(), 0.5));
        $healthy = Robust::median($this->pack->ohm === [] ? [0.01] : $this->pack->ohm);
        $out = [];
        for ($n = 0; $n <= min(6, count($order)); $n++) {
            $groups = array_slice($order, 0, $n);
            $ah = $this->usable($level->with($groups, ['capacity' => $rated, 'ohm' => $healthy, 'leak' => 0.0]))->ah;
            $gain = $out === [] ? 1.0 : $ah / max(0.01, $out[count($out) - 1]['usable_ah']) - 1;
            if ($gain < 0.03) {
                break;
            }
            $out[] = ['replaced' => $n, 'groups' => $groups, 'usable_ah' => round($ah, 2)];
        }

        return $out;
    }
}
