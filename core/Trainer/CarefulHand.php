<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\WorkPlan;

/** Carries a choice out as the steps of the work have it, and proves the pack before it goes back. */
final class CarefulHand
{
    /** Hours between the end of a charge and the first reading that counts, and of the hold test after it. */
    private const RESTS_H = 12.0;

    private const HOLDS_H = 168.0;

    private const LEVELS_H = 12.0;

    /** The hold test is read again so often where it cannot be told yet. */
    private const AGAIN = 3;

    /** A group this far under the middle is brought up by itself before the pack is charged, volts. */
    private const LOW_V = 0.02;

    /** Groups of a full pack that stand further apart are filled singly, volts. */
    private const APART_V = 0.02;

    /** What stands so far from the others is read once more, volts. */
    private const STRANGE_V = 0.05;

    /** The tail at which a phosphate pack is read, as a share of its capacity. */
    private const TAIL_SHARE = 0.05;

    /** The load under which every group is read, as a share of what the board gives. */
    private const LOAD_SHARE = 0.5;

    private const DRAWS_S = 600;

    /** @var list<array<string, mixed>> */
    public array $acts = [];

    public function __construct(private readonly Round $round) {}

    /**
     * @param  list<array<string, int|string>|null>  $where  as an option has it
     * @return Handover what was done, and whether it goes back
     */
    public function carryOut(RepairAction $action, array $where): Handover
    {
        if (!$action->endsPack()) {
            $this->readAll();
            $this->work($action, $where);
            $this->prove();
        }
        $outturn = Outturn::of($this->round, 0, true);

        return new Handover(array_map(fn(array $a): Fields => new Fields($a), $this->acts), !$action->endsPack() && $outturn->isProved());
    }

    /** @param  list<array<string, int|string>|null>  $where */
    private function work(RepairAction $action, array $where): void
    {
        $places = array_values(array_filter($where, fn(?array $w): bool => $w !== null && $w !== []));
        if (in_array($action, Mend::BY_HAND, true)) {
            $this->byHand($action, $places);

            return;
        }
        match ($action) {
            RepairAction::WakeBoard => $this->wake(),
            RepairAction::RecoverPack => $this->past(),
            RepairAction::Balance => $this->fillAll(),
            default => null,
        };
        if (in_array($action, [RepairAction::ChargeGroup, RepairAction::RecoverGroup], true)) {
            foreach ($places as $w) {
                $this->bringUp((int) ($w['group'] ?? 0));
            }
            $this->settles();
        }
    }

    /** @param  list<array<string, int|string>>  $places */
    private function byHand(RepairAction $action, array $places): void
    {
        $new = in_array($action, Mend::NEW_CELLS, true);
        $this->do(['do' => 'isolate']);
        $this->do(
            ['do' => 'hands', 'action' => $action->value] +
                ($places === [] ? [] : ['where' => $places]) +
                ($new ? ['stands_v' => $this->middle($places)] : []),
        );
        if ($action->altersPack()) {
            $this->readAll();
        }
        if (in_array('pin-check', array_column(WorkPlan::for($action), 'code'), true)) {
            $this->do(['do' => 'test', 'test' => ['kind' => 'pin-check']]);
            $this->do(['do' => 'plug']);
        }
    }

    /**
     * What new cells are brought to: what those that stay stand at, in the middle.
     *
     * @param  list<array<string, int|string>>  $places
     */
    private function middle(array $places): float
    {
        $p = $this->round->patient->spec;
        $out = array_map(fn(array $w): int => (int) ($w['group'] ?? 0), $places);
        $stay = [];
        foreach ($this->round->knownV() as $i => $v) {
            if ($v !== null && !in_array($i + 1, $out, true) && $v >= $p->lowCutV()) {
                $stay[] = $v;
            }
        }

        return $stay === [] ? $p->profile()->storageV : round(min($p->profile()->fullV, Robust::median($stay)), 3);
    }

    private function bringUp(int $k): void
    {
        $this->do(['do' => 'isolate']);
        $this->read($k);
        $this->do(['do' => 'supply', 'group' => $k]);
    }

    private function past(): void
    {
        $this->do(['do' => 'isolate']);
        $this->do(['do' => 'supply']);
        $this->settles();
    }

    /** Each group by itself to full, the lowest first. */
    private function fillAll(): void
    {
        $this->do(['do' => 'isolate']);
        $known = $this->round->knownV();
        asort($known);
        foreach (array_keys($known) as $i) {
            $this->read($i + 1);
            $this->do(['do' => 'supply', 'group' => $i + 1, 'to' => 'full']);
        }
        $this->settles();
    }

    /** What was just charged says nothing of how it stands. */
    private function settles(): void
    {
        $this->do(['do' => 'wait', 'hours' => 1]);
        $this->readAll();
    }

    private function wake(): void
    {
        foreach (Tool::WAKES as $way) {
            if ($this->do(['do' => 'test', 'test' => ['kind' => 'wake', 'action' => $way]])->bool('woke') === true) {
                return;
            }
        }
    }

    private function prove(): void
    {
        $p = $this->round->patient->spec;
        $this->low();
        if (!$this->charged()) {
            // Cut by one group before the others were full, or left apart: each by itself, and once more.
            $this->fillAll();
            // A board that has cut takes nothing before its groups are down to where it lets go.
            $this->do(['do' => 'load', 'current_a' => -$this->loadA(), 'seconds' => self::DRAWS_S]);
            $this->settles();
            $this->charged();
        }
        if ($p->chemistry->isPhosphate()) {
            $this->do(['do' => 'charge', 'current_a' => round(self::TAIL_SHARE * (float) $p->groupCapacityAh(), 2), 'minutes' => 1]);
        }
        $this->do(['do' => 'wait', 'hours' => self::RESTS_H]);
        $this->readAll();
        $p->chemistry->isPhosphate() ? $this->refills() : $this->hold();
        $this->do(['do' => 'load', 'current_a' => -$this->loadA(), 'seconds' => 60]);
        $this->do(['do' => 'test', 'test' => ['kind' => 'capacity', 'scope' => 'pack']]);
    }

    private function loadA(): float
    {
        $p = $this->round->patient->spec;

        return round(self::LOAD_SHARE * min((float) $p->bms->float('discharge_limit_a'), (float) $p->load->float('controller_limit_a')), 1);
    }

    /** Charged to its taper and levelled by its board over night. */
    private function charged(): bool
    {
        $by = $this->do(['do' => 'test', 'test' => ['kind' => 'charge']])->string('stopped_by');
        $this->do(['do' => 'level', 'hours' => self::LEVELS_H]);
        $this->settles();
        $known = array_filter($this->round->knownV(), fn(?float $v): bool => $v !== null);

        return $by === 'charger' && ($known === [] || max($known) - min($known) <= self::APART_V);
    }

    private function hold(): void
    {
        for ($n = 0; $n < self::AGAIN && !$this->holds(); $n++) {
            $this->do(['do' => 'wait', 'hours' => self::HOLDS_H]);
            $this->readAll();
        }
    }

    /** On the flat part of a curve volts say nothing of a leak: what each takes after days says it. */
    private function refills(): void
    {
        foreach (range(1, $this->round->patient->spec->series) as $k) {
            $this->do(['do' => 'test', 'test' => ['kind' => 'refill', 'scope' => ['group' => $k], 'days' => Tool::REFILL_DAYS]]);
        }
    }

    /** Whoever stands under the others is charged singly first. */
    private function low(): void
    {
        $known = array_values(array_filter($this->round->knownV(), fn(?float $v): bool => $v !== null));
        if ($known === [] || count($known) < $this->round->patient->spec->series) {
            return;
        }
        $middle = Robust::median($known);
        $low = array_filter($known, fn(float $v): bool => $v < $middle - self::LOW_V);
        foreach (array_keys($low) as $i) {
            $this->bringUp($i + 1);
        }
        $low === [] || $this->settles();
    }

    private function holds(): bool
    {
        foreach (Outturn::checks($this->round) as $r) {
            if ($r->check === Check::Hold) {
                return $r->status !== 'missing';
            }
        }

        return false;
    }

    private function readAll(): void
    {
        $all = range(1, $this->round->patient->spec->series);
        $seen = array_combine($all, array_map($this->read(...), $all));
        $known = array_values(array_filter($seen, is_float(...)));
        $middle = $known === [] ? 0.0 : Robust::median($known);
        foreach ($seen as $k => $v) {
            $v !== null && abs($v - $middle) > self::STRANGE_V && $this->read($k);
        }
        $this->do(['do' => 'read', 'from' => 'P-', 'to' => 'P+']);
    }

    /** @return float|null what the meter showed of a group */
    private function read(int $k): ?float
    {
        return $this->do(['do' => 'read', 'from' => 'T' . ($k - 1), 'to' => "T$k"])->float('v');
    }

    /** @param  array<string, mixed>  $act */
    private function do(array $act): Fields
    {
        // What a gate refuses is not tried.
        $a = new Fields($act);
        if ($this->round->unsafe !== null || (new Unsafe($this->round))->why($a) !== null || $this->round->working?->unsafe($a) !== null) {
            return Fields::of(null);
        }
        $this->acts[] = $act;

        return new Fields((array) $this->round->play($a)['result']);
    }
}
