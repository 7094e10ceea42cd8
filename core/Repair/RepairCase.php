<?php

declare(strict_types=1);

namespace Heartwood\Core\Repair;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Diagnosis\UsableWindow;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Record\Place;

/** What a remedy may lean on: the pack, what was read of it, what was found. Amp-hours are predicted. */
final readonly class RepairCase
{
    private const STANDS = 0.5;

    /** A group found dead at this probability gets no charge, even where something else is likelier. */
    private const MAY_BE_DEAD = 0.2;

    /**
     * Hours to fill a group from empty at a fifth of its capacity, with the taper (handbook "Recovery of a deep-discharged group",
     * C/5).
     */
    private const FILL_H = 6.0;

    /** Half an hour at least: clips, proof and settling. */
    private const LEAST_H = 0.5;

    /** @param  list<Finding>  $findings */
    public function __construct(
        public PackSpec $pack,
        public PackEvidence $evidence,
        public ?UsableWindow $window,
        public array $findings,
    ) {}

    public function volts(int $group): ?float
    {
        return $this->evidence->groups[$group - 1]->restV ?? null;
    }

    public function belowFloor(int $group): bool
    {
        $v = $this->volts($group);

        return $v !== null && $v < $this->pack->profile()->floorV;
    }

    /** A new group in the place of the one found, and what that brings. */
    public function replace(Finding $f, string $why): Option
    {
        return new Option(
            RepairAction::ReplaceGroup,
            [$f->place],
            $this->capacityWithout([$f->place->number]),
            [],
            $why,
            $this->pack->parallel ?? 1,
        );
    }

    /** @param  float|null  $hours  of waiting, where it is known better than what such an action takes */
    public function act(RepairAction $action, Finding $f, string $why, ?float $hours = null): Option
    {
        return new Option($action, $f->place->kind === 'pack' ? [] : [$f->place], $this->capacityWithout([]), [], $why, hours: $hours);
    }

    /** No charge into a group that may be shorted or reversed, or that did not rise when it was tried. */
    public function mayBeDead(int $group): bool
    {
        foreach ($this->findings as $f) {
            if (
                $f->place->isGroup($group) &&
                in_array($f->code, ['group.dead', 'group.reversed'], true) &&
                $f->probability >= self::MAY_BE_DEAD
            ) {
                return true;
            }
        }

        return in_array($this->evidence->groups[$group - 1]->recovery ?? null, ['hangs', 'falls', 'sinks'], true);
    }

    /** Whether some group of the pack may be dead, reversed or is below its floor: nothing goes through the pack then. */
    public function anyDead(): bool
    {
        for ($k = 1; $k <= $this->pack->series; $k++) {
            if ($this->mayBeDead($k) || $this->belowFloor($k)) {
                return true;
            }
        }

        return false;
    }

    /** Whether every group has been read, and at this voltage or above. */
    public function allAbove(float $volts): bool
    {
        for ($k = 1; $k <= $this->pack->series; $k++) {
            if (($this->volts($k) ?? -INF) < $volts) {
                return false;
            }
        }

        return true;
    }

    /** Whether every group has been read. */
    public function allRead(): bool
    {
        for ($k = 1; $k <= $this->pack->series; $k++) {
            if ($this->volts($k) === null) {
                return false;
            }
        }

        return true;
    }

    /**
     * Amp-hours of the repaired pack: the weakest group, the repaired ones counted as good; nothing while a group is dead.
     *
     * @param  list<int>  $repaired
     */
    public function capacityWithout(array $repaired): ?float
    {
        $rated = $this->pack->groupCapacityAh();
        if ($rated === null) {
            return null;
        }
        $least = $this->evidence->packCapacityAh !== null && $repaired === [] ? $this->evidence->packCapacityAh : INF;
        foreach ($this->evidence->groups as $e) {
            $capacity = in_array($e->group, $repaired, true) || $e->capacity === null ? $rated : $e->capacityAh;
            $least = min($least, $capacity);
        }

        return is_finite($least) ? $least : $rated;
    }

    /** Hours at a fifth of capacity to bring a group to its neighbours; the same for one whose charge cannot be told. */
    public function fillHours(int $group): float
    {
        $charge = $this->evidence->groups[$group - 1]->charge ?? null;

        return $charge === null ? self::FILL_H / 2 : max(self::LEAST_H, round(self::FILL_H * abs($charge), 1));
    }

    /**
     * A new board, unless pins are wrong or groups too far apart: nothing is plugged there, that comes first.
     *
     * @return list<Option>
     */
    public function replaceBoard(Finding $f): array
    {
        return $this->stands('sense.shifted', 'pack.spread')
            ? []
            : [$this->act(RepairAction::ReplaceBoard, $f, 'Pin check before it is plugged in.')];
    }

    /** Whether one of these is rather so than not. */
    public function stands(string ...$codes): bool
    {
        return $this->found(self::STANDS, ...$codes);
    }

    /** Findings of one code or several, from a probability up. */
    public function found(float $from, string ...$codes): bool
    {
        return array_filter($this->findings, fn(Finding $f): bool => in_array($f->code, $codes, true) && $f->probability >= $from) !== [];
    }
}
