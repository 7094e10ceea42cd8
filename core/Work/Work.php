<?php

declare(strict_types=1);

namespace Heartwood\Core\Work;

use Heartwood\Core\Build\PinCheck;
use Heartwood\Core\Cell\JoinRule;
use Heartwood\Core\Cell\JoinSide;
use Heartwood\Core\Limits\CellLimits;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Limits\WorkLimits;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Record\Places;
use Heartwood\Core\Repair\RepairAction;

/**
 * The steps of a plan held against what is on record: what is proved, and what is missing of the others (handbook "Work steps are
 * closed by evidence"). Evidence counts when it is newer than the decision and than the last step before it that changed the pack.
 */
final class Work
{
    /** From here on evidence is new enough: the decision, or the last step that changed the pack. */
    private float $after;

    /** Seconds by which evidence may seem older than that and be newer: none where one clock told both. */
    private float $slack = WorkLimits::CLOCK_S;

    /**
     * @param  list<Place>  $places  what the plan is about
     */
    private function __construct(
        private RepairAction $action,
        private array $places,
        private readonly Facts $facts,
        private readonly float $since,
    ) {
        $this->after = $since;
    }

    /**
     * @param  list<Place>  $places
     * @param  list<array{code: string, alters: bool, word: float|null, action?: RepairAction, places?: list<Place>}>  $steps  in order;
     *   word: when a person closed or left it; action, places: of the part of the plan that it belongs to, where it has several
     * @param  float  $since  seconds of the epoch of the decision
     * @return list<StepProof> a step for a step
     */
    public static function of(RepairAction $action, array $places, array $steps, Facts $facts, float $since): array
    {
        $work = new self($action, $places, $facts, $since);
        $out = [];
        $waits = null;
        foreach ($steps as $i => $s) {
            $work->action = $s['action'] ?? $action;
            $work->places = $s['places'] ?? $places;
            $by = ClosedBy::of($work->action, $s['code']);
            $proof = match (true) {
                $s['word'] !== null => new StepProof($by, true, $s['word'], ''),
                $by->isWord() => new StepProof($by, false, null, ''),
                $waits !== null && self::follows($by) => new StepProof($by, false, null, "After step $waits."),
                default => $work->proof($by),
            };
            // What changed the cells or their charge: what is read afterwards says what it came to.
            if ($s['alters'] || in_array($by, [ClosedBy::Charged, ClosedBy::Trial, ClosedBy::PackCharge], true)) {
                $work->altered($proof->at ?? 0.0, $s['word'] === null && in_array($by, [ClosedBy::Charged, ClosedBy::Trial], true));
                $waits ??= $proof->closed ? null : $i + 1;
            }
            $out[] = $proof;
        }

        return $out;
    }

    /**
     * What stands against doing a step now, whatever was left out before it (handbook "Gates on work"): nothing is loosened before
     * zero current is proved, no board is plugged whose pin check is not right, no cells are joined that the join rule keeps apart.
     *
     * @param  list<Place>  $places
     * @param  list<array{code: string, alters: bool, word: float|null, skipped: bool, action?: RepairAction, places?: list<Place>}>  $steps
     * @param  string  $code  of the step that is to be done
     * @return string|null why not; null when nothing does
     */
    public static function against(RepairAction $action, array $places, array $steps, Facts $facts, float $since, string $code): ?string
    {
        // What was left out is no evidence here.
        $proofs = self::of(
            $action,
            $places,
            array_map(fn(array $s): array => ['word' => $s['skipped'] ? null : $s['word']] + $s, $steps),
            $facts,
            $since,
        );
        $of = array_combine(array_column($steps, 'code'), $proofs);
        $alters = array_column($steps, 'alters', 'code');
        if ((($alters[$code] ?? false) || $code === 'take') && isset($of['isolate']) && !$of['isolate']->closed) {
            return 'Prove zero current first: nothing is loosened or joined before that.';
        }
        if ($code === 'plug' && isset($of['pin-check']) && !$of['pin-check']->closed) {
            return 'The pin check is not right: ' . $of['pin-check']->text . ' Nothing is plugged before it is.';
        }
        $join = array_search('join', array_column($steps, 'code'), true);
        $part = $join === false ? [] : $steps[$join];
        if (
            $code === 'weld' &&
            isset($of['join']) &&
            !$of['join']->closed &&
            (new self($part['action'] ?? $action, $part['places'] ?? $places, $facts, $since))->apart()
        ) {
            return 'The join rule keeps them apart: ' . $of['join']->text;
        }

        return null;
    }

    /**
     * What a typed current says of the first step.
     *
     * @return string|null why it is not taken; null when there is none
     */
    public static function noCurrent(string $typed): ?string
    {
        $bare = str_replace(',', '.', (string) preg_replace('/\s*(m?)a$/i', '', trim($typed)));
        if (!is_numeric($bare)) {
            return 'Type what the clamp or meter shows, in A.';
        }
        $amps = abs((float) $bare) / (preg_match('/\dm\s*a$|\d\s+ma$/i', trim($typed)) === 1 ? 1000 : 1);

        return $amps > WorkLimits::NO_CURRENT_A
            ? sprintf('%s A still flows: find what is connected. Up to %s A is taken for none.', round($amps, 3), WorkLimits::NO_CURRENT_A)
            : null;
    }

    /**
     * The pack is another one from here on. What a hand did is told by the bench that reads the pack next, on its own clock.
     *
     * @param  bool  $told  whether the bench told it: a run and a person's word are timed by the server
     */
    private function altered(float $at, bool $told): void
    {
        if ($at <= $this->after) {
            return;
        }
        $this->after = $at;
        $ran = array_filter($this->facts->runs, fn(array $r): bool => abs(($r['ended'] ?? 0.0) - $at) <= WorkLimits::CLOCK_S);
        $this->slack = $told && $ran === [] ? 0.0 : WorkLimits::CLOCK_S;
    }

    /** Whether it says something of the pack as it is after a step that alters it. */
    private static function follows(ClosedBy $by): bool
    {
        return in_array($by, [ClosedBy::RestSet, ClosedBy::Level, ClosedBy::Pins, ClosedBy::Rested, ClosedBy::WayBack], true);
    }

    private function proof(ClosedBy $by): StepProof
    {
        [$at, $text] = match ($by) {
            ClosedBy::Teardown => $this->facts->teardown['steps'] > 0
                ? [$this->facts->teardown['at'], sprintf('%d steps written down', $this->facts->teardown['steps'])]
                : [null, 'Nothing of the teardown is written down yet.'],
            ClosedBy::WayBack => $this->wayBack(),
            ClosedBy::Cells => $this->cells(),
            ClosedBy::Join => $this->join(),
            ClosedBy::Level => $this->level(),
            ClosedBy::Pins => $this->pins(),
            ClosedBy::RestSet => $this->rest($this->new()),
            ClosedBy::RunStarted => $this->started(),
            ClosedBy::Charged => $this->charged(),
            ClosedBy::Trial => $this->trial(),
            ClosedBy::Rested => $this->rested(),
            ClosedBy::PackCharge => $this->run(
                fn(array $r): ?float => $r['kind'] === 'charge' && $r['good'] ? $r['ended'] : null,
                'No watched charge of the pack came to its end.',
            ),
            ClosedBy::Joint => $this->joint(),
            ClosedBy::Woke => $this->test('wake', fn(Fields $t): bool => $t->bool('woke') === true, 'no action woke it yet'),
            ClosedBy::Charger => $this->test('charger', fn(Fields $t): bool => $t->float('open_v') !== null, 'its open volts are not read'),
            ClosedBy::LoadCheck => $this->test('load-check', fn(Fields $t): bool => true, 'nothing was measured at it'),
            ClosedBy::Gauge => $this->test('gauge', fn(Fields $t): bool => true, 'the gauge was not read since'),
            ClosedBy::Word, ClosedBy::NoCurrent => [null, ''],
        };

        return new StepProof($by, $at !== null, $at, $text);
    }

    /** @return array{float|null, string} */
    private function wayBack(): array
    {
        $t = $this->facts->teardown;
        if ($t['steps'] === 0) {
            return [null, 'Nothing of the teardown was written down: there is no count to close it by.'];
        }

        return $t['left'] > 0 || $t['back'] === null
            ? [null, sprintf('%d of the way back to go', $t['left'])]
            : [$t['back'], 'All is back, the counts agree'];
    }

    /** @return list<int> groups that the plan is about; of a whole pack all of them */
    private function groups(): array
    {
        $named = array_values(
            array_map(fn(Place $p): int => $p->number, array_filter($this->places, fn(Place $p): bool => $p->kind === 'group')),
        );

        return $named === [] ? range(1, $this->facts->record->pack->series) : $named;
    }

    /** @return array{float|null, string} */
    private function cells(): array
    {
        $in = array_column($this->facts->cells, null, 'group');
        $each = $this->facts->record->pack->parallel ?? 1;
        $want = $this->action === RepairAction::ReplaceCell ? 1 : $each;
        $short = array_values(array_filter($this->groups(), fn(int $k): bool => count($in[$k]['cells'] ?? []) < $want));
        if ($short !== []) {
            return [null, 'No cells yet for ' . Places::of('group', $short) . '.'];
        }
        $mine = array_map(fn(int $k): array => $in[$k], $this->groups());

        return [
            max(0.0, ...array_column($mine, 'at')),
            sprintf('%d cells out of the drawer', array_sum(array_map(fn(array $g): int => count($g['cells']), $mine))),
        ];
    }

    /**
     * The cells of each group against each other, by what they stood at; the widest pair speaks for its group.
     *
     * @return array{float|null, string}
     */
    private function join(): array
    {
        [$dealt, $text] = $this->cells();
        if ($dealt === null) {
            return [null, $text];
        }
        $widest = 0.0;
        foreach ($this->groups() as $k) {
            [$rule, $unread] = $this->beside($k);
            if ($rule === null || $unread !== null) {
                return [null, $unread === null ? "Group $k is not read at rest." : "$unread has no rest voltage on record: read it."];
            }
            if ($rule->way !== 'direct') {
                return [null, "Group $k: $rule->text"];
            }
            $widest = max($widest, $rule->deltaV);
        }

        return [$dealt, sprintf('Joined directly by the rule: %.0f mV apart at the most', 1000 * $widest)];
    }

    /** Whether cells that are to lie side by side are known to be too far apart for it. */
    private function apart(): bool
    {
        foreach ($this->groups() as $k) {
            [$rule] = $this->beside($k);
            if ($rule !== null && $rule->way !== 'direct') {
                return true;
            }
        }

        return false;
    }

    /**
     * The widest two of what comes side by side in a group: its new cells, and where one cell is replaced those that it joins.
     *
     * @return array{JoinRule|null, string|null} by those that were read, null where nothing was; and what was not
     */
    private function beside(int $group): array
    {
        $sides = [];
        $unread = null;
        $pack = $this->facts->record->pack;
        if ($this->action === RepairAction::ReplaceCell) {
            $own = $this->facts->lastV($group);
            $ah = $pack->groupCapacityAh();
            if ($own === null) {
                $unread = "Group $group";
            } else {
                $most =
                    $pack->cell->float('max_charge_a') ?? (($ah ?? PackSpec::UNKNOWN_AH) * CellLimits::CHARGE_C) / ($pack->parallel ?? 1);
                $sides[] = new JoinSide(
                    $own,
                    $pack->groupResistanceMohm() / 1000,
                    $ah ?? PackSpec::UNKNOWN_AH,
                    $most * ($pack->parallel ?? 1),
                    $pack->chemistry,
                );
            }
        }
        foreach (array_column($this->facts->cells, 'cells', 'group')[$group] ?? [] as $c) {
            if ($c['v'] === null) {
                $unread ??= "Cell {$c['code']}";
            } else {
                $sides[] = new JoinSide($c['v'], $c['ohm'], $c['ah'], $c['max_a'], $pack->chemistry);
            }
        }
        usort($sides, fn(JoinSide $a, JoinSide $b): int => $a->volts <=> $b->volts);

        return [$sides === [] ? null : JoinRule::check($sides[0], $sides[count($sides) - 1]), $unread];
    }

    /** @return array{float|null, string} */
    private function level(): array
    {
        [$at, $text] = $this->charged();
        if ($at !== null) {
            return [$at, $text];
        }
        [$read] = $this->rest($this->new());
        $volts = array_filter($this->facts->groupsV, fn(?float $v): bool => $v !== null);
        if ($read !== null && $volts !== [] && count($volts) === $this->facts->record->pack->series) {
            $spread = max($volts) - min($volts);

            return $spread <= VerdictLimits::BALANCE_SOON_V
                ? [$read, sprintf('Read level: %.0f mV apart', 1000 * $spread)]
                : [null, sprintf('%.0f mV apart at rest, and not charged singly since.', 1000 * $spread)];
        }

        return [null, 'Not charged singly since, nor read level.'];
    }

    /** @return array{float|null, string} */
    private function charged(): array
    {
        // What a run put in that a rule or a hand ended is no charge that came to its end.
        $broken = array_column(array_filter($this->facts->runs, fn(array $r): bool => $r['ended'] !== null && !$r['good']), 'ended');
        $charged = array_filter(
            $this->facts->charged($this->new()),
            fn(float $at): bool => array_filter($broken, fn(float $b): bool => abs($b - $at) <= WorkLimits::CLOCK_S) === [],
        );
        $left = array_values(array_filter($this->groups(), fn(int $k): bool => !isset($charged[$k])));

        return $left === []
            ? [max(0.0, ...$charged), 'Charged singly: ' . Places::of('group', $this->groups())]
            : [null, 'Not charged singly since: ' . Places::of('group', $left) . '.'];
    }

    /** @return array{float|null, string} */
    private function pins(): array
    {
        $read = $this->facts->tests('pin-check', $this->new());
        $last = $read === [] ? null : $read[count($read) - 1];
        if ($last === null) {
            return [null, 'The plug was not read since.'];
        }
        $volts = array_filter($this->facts->groupsWhen($last), fn(?float $v): bool => $v !== null);
        if (count($volts) !== $this->facts->record->pack->series) {
            return [null, 'Every group is read first: the staircase comes from today\'s voltages.'];
        }
        $check = PinCheck::of(array_values($volts), $last->numbers('pins_v'));

        return $check['go'] ? [Facts::time($last), $check['text']] : [null, $check['text']];
    }

    /** @return array{float|null, string} */
    private function rest(float $after): array
    {
        $series = $this->facts->record->pack->series;
        $missing = null;
        foreach (array_reverse($this->facts->rests) as $set) {
            if ($set['at'] < $after) {
                continue;
            }
            if (count($set['groups']) === $series) {
                return [$set['at'], sprintf('%d groups read at rest', $series)];
            }
            $missing ??= array_values(array_diff(range(1, $series), $set['groups']));
        }

        return [null, $missing === null ? 'No set at rest since.' : 'Not read at rest since: ' . Places::of('group', $missing) . '.'];
    }

    /**
     * @param  callable(array{kind: string, group: int|null, started: float, ended: float|null, good: bool,
     *   text: string}): (float|null)  $counts  when a run counts, null where it does not
     * @return array{float|null, string}
     */
    private function run(callable $counts, string $else): array
    {
        $named = array_map(fn(Place $p): int => $p->number, array_filter($this->places, fn(Place $p): bool => $p->kind === 'group'));
        foreach (array_reverse($this->facts->runs) as $r) {
            $at = $counts($r);
            if ($at !== null && $at >= $this->since && ($r['group'] === null || $named === [] || in_array($r['group'], $named, true))) {
                return [$at, $r['text']];
            }
        }

        return [null, $else];
    }

    /**
     * A run that was started, or what can only have come of one that a hand did.
     *
     * @return array{float|null, string}
     */
    private function started(): array
    {
        $run = $this->run(
            fn(array $r): ?float => in_array($r['kind'], ['recovery', 'balance'], true) ? $r['started'] : null,
            'No run was started for it.',
        );
        foreach ($run[0] === null ? [$this->charged(), $this->trial()] : [] as $done) {
            if ($done[0] !== null) {
                return $done;
            }
        }

        return $run;
    }

    /** @return array{float|null, string} */
    private function trial(): array
    {
        $done = $failed = [];
        foreach ($this->facts->tests('recovery', $this->new()) as $t) {
            $done[Place::from($t->object('scope'))->number] = Facts::time($t);
        }
        foreach ($this->facts->runs as $r) {
            if ($r['kind'] === 'recovery' && $r['ended'] !== null && $r['ended'] >= $this->new()) {
                // The last of a group's runs speaks: what ended by a rule is no recovery, and is not carried on.
                unset($failed[(int) $r['group']], $done[(int) $r['group']]);
                if ($r['good']) {
                    $done[(int) $r['group']] = $r['ended'];
                } else {
                    $failed[(int) $r['group']] = $r['text'];
                }
            }
        }
        if ($failed !== []) {
            return [null, 'It did not come back: ' . implode(' ', $failed)];
        }
        $named = $this->action === RepairAction::RecoverPack && isset($done[0]) ? [0] : $this->groups();
        $left = array_values(array_filter($named, fn(int $k): bool => !isset($done[$k])));

        return $left === []
            ? [max(0.0, ...$done), 'The trial is on record']
            : [null, 'No trial since: ' . Places::of('group', $left) . '.'];
    }

    /** @return array{float|null, string} */
    private function rested(): array
    {
        [$trial, $text] = $this->trial();
        if ($trial === null) {
            return [null, $text];
        }
        foreach ($this->facts->rests as $set) {
            if ($set['at'] >= $trial + WorkLimits::RESTED_S && array_diff($this->groups(), $set['groups']) === []) {
                return [$set['at'], sprintf('Read %.0f min after the current', ($set['at'] - $trial) / 60)];
            }
        }

        return [null, sprintf('Not read an hour after the current ended: %s.', Places::of('group', $this->groups()))];
    }

    /** @return array{float|null, string} */
    private function joint(): array
    {
        $taps = array_values(
            array_map(fn(Place $p): int => $p->number, array_filter($this->places, fn(Place $p): bool => $p->kind === 'joint')),
        );
        $set = array_column(
            array_filter($this->facts->joints, fn(array $j): bool => $j['at'] >= $this->since - WorkLimits::CLOCK_S),
            null,
            'tap',
        );
        $left = array_values(array_filter($taps, fn(int $t): bool => !isset($set[$t])));
        if ($left !== [] || $set === []) {
            return [null, $left === [] ? 'No joint was set since.' : 'Not set since: ' . Places::of('joint', $left) . '.'];
        }
        $mine = array_values($taps === [] ? $set : array_intersect_key($set, array_flip($taps)));

        return [max(0.0, ...array_column($mine, 'at')), implode('; ', array_column($mine, 'text'))];
    }

    /**
     * @param  callable(Fields): bool  $counts
     * @return array{float|null, string}
     */
    private function test(string $kind, callable $counts, string $missing): array
    {
        $done = array_values(array_filter($this->facts->tests($kind, $this->since - WorkLimits::CLOCK_S), $counts));

        return $done === [] ? [null, ucfirst($missing) . '.'] : [Facts::time($done[count($done) - 1]), 'Measured since'];
    }

    private function new(): float
    {
        return $this->after - $this->slack;
    }
}
