<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Limits\TrainerLimits;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Safety\Gate;
use Heartwood\Core\Safety\Triage;

/** What a choice gives whoever brought the pack, and what it costs: carried out on the pack as it truly is. */
final readonly class Choice
{
    /** A pack that is charged or brought up as a whole is left no emptier. */
    private const HALF = 0.5;

    /** What charges groups as they are, and what brings them up from under their cut-off first. */
    private const CHARGES = [RepairAction::ChargeGroup, RepairAction::ChargePack, RepairAction::Balance];

    private const REVIVES = [RepairAction::RecoverGroup, RepairAction::RecoverPack];

    private const NEW_PART = [RepairAction::ReplaceBoard, RepairAction::ReplaceCharger, RepairAction::RepairPath];

    /**
     * @param  float  $usableAh  what the pack gives afterwards
     * @param  float  $cost  parts and hands, in whole coins of the shop's money
     * @param  int  $minutes  of hands
     * @param  string|null  $unsafe  the rule that it breaks
     */
    private function __construct(public float $usableAh, public float $cost, public int $minutes, public ?string $unsafe) {}

    /**
     * @param  list<array<string, int|string>|null>  $where
     * @param  Patient  $p  is altered by it
     * @param  list<float|null>|null  $known  volts of the groups as they were read, null where nobody did; without it: as they are
     */
    public static function of(RepairAction $action, array $where, Patient $p, ?array $known = null): self
    {
        $places = $where === [] ? [null] : $where;
        $groups = array_values(array_filter(array_map(fn(?array $w): ?int => isset($w['group']) ? (int) $w['group'] : null, $places)));
        $groups = array_values(array_filter($groups, fn(int $k): bool => $k >= 1 && $k <= $p->spec->series));
        $unsafe = self::unsafe($action, $groups, $p, $known);
        $parts = 0;
        $middle = self::middle(array_map(fn($g): float => $g->charge, $p->cells->groups));
        if ($unsafe === null) {
            self::carriedOut($action, $groups, self::joints($places), $p, $middle);
            $parts = self::partsCents($action, count($groups), $p->spec);
        }
        $minutes = $action->minutes() * max(1, count($where));
        $cents = $parts + ($minutes * TrainerLimits::HOUR_CENTS) / 60;
        $p->rests(60.0);
        $works = !$action->endsPack() && $unsafe === null && $p->isAlive();

        return new self($works ? round($p->givesAh(), 2) : 0.0, round($cents / 100, 2), $minutes, $unsafe);
    }

    /** @return array{usable_ah: float, cost: float, minutes: int} */
    public function toArray(): array
    {
        return ['usable_ah' => $this->usableAh, 'cost' => $this->cost, 'minutes' => $this->minutes];
    }

    /**
     * @param  list<int>  $groups
     * @param  list<float|null>|null  $known
     */
    private static function unsafe(RepairAction $action, array $groups, Patient $p, ?array $known): ?string
    {
        $gate = $action->gate();
        $state = Triage::assess(new Fields($p->inspection), $p->symptoms, $p->spec->fullVolts())->state;
        $refused = $gate === null ? null : Gate::refuses($state, $gate, false);
        if ($refused !== null) {
            return $refused;
        }
        $charges = in_array($action, self::CHARGES, true);
        foreach ($charges || in_array($action, self::REVIVES, true) ? ($groups === [] ? range(1, $p->spec->series) : $groups) : [] as $k) {
            // What nobody could know is no fault of whoever chooses; what nobody read is.
            $v = $known === null ? $p->across($k) : $known[$k - 1] ?? null;
            if ($v === null) {
                return "Group $k was never read: nobody charges what nobody knows.";
            }
            $why = Unsafe::ofGroup($k, $v, $p->spec, $charges, $action === RepairAction::ChargeGroup);
            if ($why !== null) {
                return $why;
            }
        }

        return null;
    }

    /** @return list<RepairAction> what may be chosen of a pack that was brought: nothing of a round is built from nothing */
    public static function all(): array
    {
        $out = [];
        foreach (RepairAction::cases() as $a) {
            if ($a !== RepairAction::Build) {
                $out[] = $a;
            }
        }

        return $out;
    }

    /** Parts that it takes, in hundredths of a coin. */
    public static function partsCents(RepairAction $action, int $groups, PackSpec $spec): int
    {
        $each = $spec->parallel ?? 1;
        $cells = match ($action) {
            RepairAction::ReplaceGroup => $groups * $each,
            RepairAction::ReplaceCell => $groups,
            RepairAction::Rebuild => $spec->series * $each,
            default => 0,
        };

        return $cells * TrainerLimits::CELL_CENTS + (in_array($action, self::NEW_PART, true) ? TrainerLimits::PART_CENTS : 0);
    }

    /**
     * As a careful hand does it: what is new or charged stands as the others do.
     *
     * @param  list<int>  $groups
     * @param  list<int>  $joints
     */
    private static function carriedOut(RepairAction $action, array $groups, array $joints, Patient $p, float $middle): void
    {
        $all = range(1, $p->spec->series);
        if ($action === RepairAction::WakeBoard) {
            $p->gives = $p->gives || $p->wokenBy !== [];

            return;
        }
        Mend::by(
            $action,
            match ($action) {
                RepairAction::Rebuild => $all,
                RepairAction::CleanJoint => $joints,
                default => $groups,
            },
            $p,
        );
        $charged = match ($action) {
            RepairAction::Rebuild => $all,
            RepairAction::ReplaceGroup, RepairAction::ReplaceCell, RepairAction::ChargeGroup, RepairAction::RecoverGroup => $groups,
            RepairAction::Balance, RepairAction::RecoverPack, RepairAction::ChargePack => $all,
            default => [],
        };
        $whole = in_array($action, [RepairAction::Balance, RepairAction::RecoverPack, RepairAction::ChargePack], true);
        foreach ($charged as $k) {
            $p->group($k)->charge = $whole ? max(self::HALF, $middle) : $middle;
        }
    }

    /**
     * @param  list<array<string, int|string>|null>  $places
     * @return list<int>
     */
    private static function joints(array $places): array
    {
        return array_values(array_filter(array_map(fn(?array $w): ?int => isset($w['joint']) ? (int) $w['joint'] : null, $places)));
    }

    /** @param  list<float>  $values */
    private static function middle(array $values): float
    {
        sort($values);

        return $values[intdiv(count($values), 2)];
    }
}
