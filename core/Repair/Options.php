<?php

declare(strict_types=1);

namespace Heartwood\Core\Repair;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Diagnosis\UsableWindow;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Safety\SafetyState;

/** What can be done about the findings and what each way would bring (handbook "Repair options"). */
final readonly class Options
{
    /** Findings from this probability up call for an action. */
    public const ACT = 0.35;

    /** From this probability a group or a path counts as dead for what a pack can give. */
    private const DEAD = 0.5;

    /** One weak joint is spread over taps: a share of it from here up is worth a look. */
    private const OF_A_JOINT = 0.12;

    /** A pack of so few groups is worth its sound ones when a single one is replaced. */
    private const SMALL = 3;

    /** A reading doubted, and a fault that takes no charge well, from which nothing is balanced. */
    private const DOUBTED = 0.3;

    private const MAY_TAKE_NONE = 0.15;

    public function __construct(private PackSpec $pack, private PackEvidence $evidence, private ?UsableWindow $window) {}

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
            return [
                new Option(RepairAction::Quarantine, [], null, [], 'Outside or in a fire-safe box, away from people.'),
                new Option(RepairAction::Recycle, [], null, []),
            ];
        }
        if ($safety === SafetyState::Hold) {
            return [
                new Option(
                    RepairAction::None,
                    [],
                    null,
                    $this->codes($findings, []),
                    'On hold: nothing is done until a senior has released it.',
                ),
                new Option(RepairAction::Recycle, [], null, []),
            ];
        }
        if (
            $this->pack->build === 'new' &&
            array_filter($findings, fn(Finding $f): bool => $f->probability >= self::ACT && $f->severity->value !== 'note') === []
        ) {
            return [
                new Option(
                    RepairAction::Build,
                    [],
                    $this->pack->groupCapacityAh(),
                    [],
                    'A new build: nothing to find is its proper verdict.',
                    $this->pack->series * ($this->pack->parallel ?? 1),
                ),
            ];
        }
        $case = new RepairCase($this->pack, $this->evidence, $this->window, $findings);
        $options = [];
        // One weak joint is spread over the taps it may sit at: together they call for the work.
        $joints = array_sum(array_map(fn(Finding $f): float => $f->code === 'joint.high-resistance' ? $f->probability : 0.0, $findings));
        foreach ($findings as $f) {
            if (isset($this->evidence->retightened[$f->place->kind === 'joint' ? $f->place->number : -1])) {
                // Already done: it is watched.
                continue;
            }
            if (
                $f->probability < self::ACT &&
                !($f->code === 'joint.high-resistance' && $joints >= self::ACT && $f->probability >= self::OF_A_JOINT)
            ) {
                continue;
            }
            foreach (Faults::of($f->code)->remedies($f, $case) as $option) {
                $options[] = $option;
            }
        }
        $swing = $this->window === null ? null : $this->window->chargeAh + $this->window->dischargeAh;
        $stopped = array_filter($findings, fn(Finding $f): bool => $f->severity->value === 'stop' && $f->probability >= self::ACT) !== [];
        if (!$stopped) {
            $dead = $case->found(self::ACT, 'group.dead', 'group.reversed', 'path.fuse-open', 'bms.output-dead', 'path.switch-or-enable');
            $options[] = new Option(RepairAction::None, [], $dead ? null : $swing, $this->codes($findings, []), 'As it stands.');
        }
        $worth = array_filter($options, fn(Option $o): bool => $o->action === RepairAction::ReplaceGroup);
        if (count($worth) < $this->pack->series && (count($worth) >= 2 || (count($worth) === 1 && $this->pack->series <= self::SMALL))) {
            $options[] = new Option(
                RepairAction::Donor,
                [],
                null,
                $this->codes($findings, []),
                'The groups that prove good can serve other packs.',
            );
        }
        $options[] = new Option(RepairAction::Recycle, [], null, []);

        if ($this->unbalanceable($findings)) {
            $options = array_values(array_filter($options, fn(Option $o): bool => $o->action !== RepairAction::Balance));
        }

        return array_map(function (Option $o) use ($findings, $case): Option {
            $o = $o->leaving($o->leaves === [] ? $this->left($o, $findings, $case) : $o->leaves);

            return $this->dead($o, $findings) ? $o->without($o->leaves) : $o;
        }, $this->merged($options, $case));
    }

    /**
     * What stands and is not answered by an option: none of the ways of a finding is this one, at its place.
     *
     * @param  list<Finding>  $findings
     * @return list<string>
     */
    private function left(Option $o, array $findings, RepairCase $case): array
    {
        if ($o->action->endsPack() || $o->action === RepairAction::Build) {
            return [];
        }
        $calls = array_filter($findings, fn(Finding $f): bool => $f->probability >= self::ACT && $f->severity->value !== 'note');
        $groups = array_filter($calls, fn(Finding $f): bool => str_starts_with($f->code, 'group.')) !== [];
        $codes = [];
        foreach ($calls as $f) {
            // How far apart they stand follows from the groups that are named; a board that does its job is no fault.
            if (($f->code === 'pack.spread' && $groups) || $f->code === 'bms.protecting' || str_starts_with($f->code, 'reading.')) {
                continue;
            }
            if ($o->action === RepairAction::Rebuild && preg_match('/^(group|cell|joint|pack)\./', $f->code) === 1) {
                continue;
            }
            foreach (Faults::of($f->code)->remedies($f, $case) as $way) {
                $keys = array_map(fn(Place $p): string => $p->key(), $o->places);
                $its = array_map(fn(Place $p): string => $p->key(), $way->places);
                if ($way->action === $o->action && array_diff($its, $keys) === []) {
                    continue 2;
                }
            }
            $codes[$f->code] = true;
        }

        return array_keys($codes);
    }

    /**
     * Whether an option leaves a dead group, or a way out that does not conduct: then nothing can be drawn from the pack.
     *
     * @param  list<Finding>  $findings
     */
    private function dead(Option $o, array $findings): bool
    {
        if (in_array($o->action, [RepairAction::Rebuild, RepairAction::Build], true)) {
            return false;
        }
        foreach ($findings as $f) {
            if ($f->probability < self::DEAD) {
                continue;
            }
            if (
                in_array($f->code, ['group.dead', 'group.reversed'], true) &&
                !($o->action === RepairAction::ReplaceGroup && in_array($f->place, $o->places, false))
            ) {
                return true;
            }
            if (in_array($f->code, ['path.fuse-open', 'path.switch-or-enable'], true) && $o->action !== RepairAction::RepairPath) {
                return true;
            }
            if ($f->code === 'bms.output-dead' && $o->action !== RepairAction::ReplaceBoard) {
                return true;
            }
        }

        return false;
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
            if ($e->doubtProbability >= self::DOUBTED) {
                return true;
            }
        }
        foreach ($findings as $f) {
            if (
                $f->probability >= self::MAY_TAKE_NONE &&
                in_array($f->code, ['group.dead', 'group.reversed', 'group.deep-discharged', 'group.self-discharge'], true)
            ) {
                return true;
            }
        }

        return false;
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
            if ($f->probability >= self::ACT && !in_array($f->code, $fixed, true) && $f->severity->value !== 'note') {
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
    private function merged(array $options, RepairCase $case): array
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
            $groups = array_values(
                array_map(fn(Place $p): int => $p->number, array_filter($places, fn(Place $p): bool => $p->kind === 'group')),
            );
            $ah = in_array($o->action, [RepairAction::ReplaceGroup, RepairAction::ReplaceCell, RepairAction::Reweld], true)
                ? $case->capacityWithout($groups)
                : $same->usableAh ?? $o->usableAh;
            $out[$o->action->value] = new Option(
                $o->action,
                array_values($places),
                $ah,
                array_values(array_unique([...$same->leaves, ...$o->leaves])),
                $same->topUps === [] ? $same->why : "{$same->why} {$o->why}",
                $same->cells + $o->cells,
                $same->handsMinutes + $o->handsMinutes,
                max($same->waitHours, $o->waitHours),
                [...$same->topUps, ...$o->topUps],
            );
        }

        return array_values($out);
    }
}
