<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Build\PinCheck;
use Heartwood\Core\Cell\JoinRule;
use Heartwood\Core\Cell\JoinSide;
use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Limits\TrainerLimits;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Recovery\RecoveryPlan;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\WorkPlan;
use Heartwood\Core\Run\Why;
use Heartwood\Core\Safety\Gate;
use Heartwood\Core\Safety\SafetyState;
use Heartwood\Core\Safety\Triage;

/**
 * The choice of a round as it is carried out: what has been isolated, opened, read at the clips and put in so far, and what may never be
 * done on that (handbook "Gates on work", "Joining cells or packs in parallel", "Recovery of a deep-discharged group").
 */
final class Working
{
    /** Ends after which a group is not tried again as it is. */
    private const REJECTS = [
        Why::VoltageFalls,
        Why::VoltageHangs,
        Why::ChargeTooMuch,
        Why::RestFalls,
        Why::TemperatureHot,
        Why::TemperatureRises,
    ];

    /** Of these, what is reckoned from the gap in charge, which volts near full or on a plateau tell but roughly. */
    private const OF_THE_GAP = [Why::ChargeTooMuch, Why::RestFalls];

    /** After these a charger, a load or a tester hangs on it. */
    private const CONNECTS = ['capacity', 'discharge', 'recovery', 'refill', 'wake', 'charger', 'load-check', 'charger-trial'];

    /** Tests that put charge in. */
    private const FILLS = ['charge', 'refill', 'capacity', 'recovery'];

    private const CYCLE = ['do' => 'test', 'test' => ['kind' => 'charge']];

    /** What an action of hands leaves in the record. */
    private const EVENTS = [
        'replace-group' => 'group-replaced',
        'replace-cell' => 'cell-replaced',
        'rebuild' => 'group-replaced',
        'replace-board' => 'board-replaced',
        'repair-sense' => 'wire-repaired',
        'clean-joint' => 'retightened',
    ];

    /** Cells of one lot out of one drawer stand alike within this, volts. */
    private const ALIKE_V = 0.001;

    public bool $isolated = false;

    /** The sense plug came out with the work and has not gone in again. */
    private bool $opened = false;

    /** @var array<int, float> volts as they were read at the clips of a group since anything was done to it */
    private array $atClips = [];

    /** @var array<int, float> volts of a group as it was read last, or as a run left it, since the pack was altered */
    public array $lastV = [];

    /** @var array<int, string> why a run ended that a rule ended, by group; 0 for the whole string */
    private array $ended = [];

    /** Parts that went in, in hundredths of a coin, and minutes of hands. */
    public int $cents = 0;

    public int $minutes = 0;

    /** Runs at the supply that came to what they were started for. */
    public int $good = 0;

    /** @var list<float|null> volts of the groups as they were known when the choice was made */
    public readonly array $knownBefore;

    /** @param  Fields  $answer  as it was given */
    public function __construct(private readonly Round $round, private readonly Fields $answer)
    {
        $this->knownBefore = $round->knownV();
        foreach ($this->knownBefore as $i => $v) {
            $v === null || ($this->lastV[$i + 1] = $v);
        }
    }

    /** What was read at a group, as its numbers are written down. */
    public function read(int $k, float $v): void
    {
        $this->atClips[$k] = $this->lastV[$k] = $v;
    }

    /** Something was connected: what follows wants zero current proved again. */
    public function connected(Fields $act): void
    {
        $kind = $act->string('do') === 'test' ? (string) $act->object('test')->string('kind') : (string) $act->string('do');
        $this->isolated = $this->isolated && !in_array($kind, ['load', 'charge', 'level', ...self::CONNECTS], true);
    }

    /** @return string|null the rule that an act of the work breaks; null where it breaks none */
    public function unsafe(Fields $act): ?string
    {
        return match ($act->string('do')) {
            'plug' => $this->opened ? $this->pins() : null,
            'hands' => $this->unsafeHands($act),
            'supply' => $this->unsafeSupply($act),
            'charge', 'level' => $this->rejected(null),
            'test' => in_array($act->object('test')->string('kind'), self::FILLS, true)
                ? $this->rejected($act->object('test')->object('scope')->int('group'))
                : null,
            default => null,
        };
    }

    /** Whether charge would go into a group that a rule of recovery has rejected; null for the whole pack. */
    private function rejected(?int $group): ?string
    {
        foreach ($this->ended as $k => $why) {
            if ($k === 0 || $group === null || $k === $group) {
                return ($k === 0 ? 'The pack' : "Group $k") . " was rejected at the supply and charge went into it again: $why";
            }
        }

        return null;
    }

    /** @return array<string, mixed> */
    public function play(Fields $act, Meter $meter, Luck $luck): array
    {
        return match ($act->string('do')) {
            'isolate' => $this->isolate(),
            'hands' => $this->hands($act, $luck),
            'level' => $this->level((float) $act->float('hours'), $meter, $luck),
            default => $this->supply($act, $meter, $luck),
        };
    }

    /** The plug is in again. */
    public function plugged(): void
    {
        $this->opened = false;
    }

    /** @return array{clamp_a: float} */
    private function isolate(): array
    {
        $this->isolated = true;
        $this->round->patient->rests(TrainerLimits::ISOLATE_S);

        return ['clamp_a' => 0.0];
    }

    /**
     * Left on its charger, so that the board levels it at the top.
     *
     * @return array{groups_v: list<float>, stopped_by: 'bms'|null, hours: float}
     */
    private function level(float $hours, Meter $meter, Luck $luck): array
    {
        $p = $this->round->patient;
        if ($hours <= 0.0 || $hours > TrainerLimits::LEVEL_H) {
            throw new InVain(sprintf('Leave it on longer than nothing, and no longer than %.0f hours.', TrainerLimits::LEVEL_H));
        }
        $p->rests(TrainerLimits::CLIPS_S);
        $by = $p->held(3600 * $hours);
        $this->atClips = [];
        $this->round->charged(null, []);

        return [
            'groups_v' => array_map(fn(int $k): float => $meter->shows($p->across($k), $luck)['v'], range(1, $p->spec->series)),
            'stopped_by' => $by,
            'hours' => $hours,
        ];
    }

    private function unsafeHands(Fields $act): ?string
    {
        $action = $this->action($act);
        if ($action === null) {
            return null;
        }
        $gate = $action->gate();
        $refused = $gate === null ? null : $this->gated($gate);
        $steps = array_column(WorkPlan::for($action), 'code');
        if ($refused !== null) {
            return $refused;
        }
        if (in_array('isolate', $steps, true) && !$this->isolated) {
            return 'Nothing is loosened or joined before charger, load and sibling packs are off and zero current is proved.';
        }

        return match ($action) {
            RepairAction::ReplaceCell => $this->apart($act),
            // A gauge is taught by a whole charge and a whole discharge.
            RepairAction::RelearnGauge => $this->rejected(null) ?? (new Unsafe($this->round))->why(new Fields(self::CYCLE)),
            default => null,
        };
    }

    /** Whether a cell would be joined to a group that the join rule keeps it from. */
    private function apart(Fields $act): ?string
    {
        $p = $this->round->patient->spec;
        $new = $act->float('stands_v');
        $most = ($p->cell->float('max_charge_a') ?? Parts::CELL_CHARGE_A) * ($p->parallel ?? 1);
        $ohm = $p->groupResistanceMohm() / 1000;
        $ah = (float) $p->groupCapacityAh();
        foreach ($this->places($act, $p) as $k) {
            $own = $this->atClips[$k] ?? null;
            if ($own === null) {
                return "Group $k was not read before a cell was joined to it: cells are joined by the join rule, or not at all.";
            }
            $rule = JoinRule::check(
                new JoinSide($own, $ohm, $ah, $most, $p->chemistry),
                new JoinSide(
                    (float) $new,
                    $ohm * ($p->parallel ?? 1),
                    $ah / ($p->parallel ?? 1),
                    $most / ($p->parallel ?? 1),
                    $p->chemistry,
                ),
            );
            if ($new !== null && $rule->way !== 'direct') {
                return "The join rule keeps the cell and group $k apart: $rule->text";
            }
        }

        return null;
    }

    private function unsafeSupply(Fields $act): ?string
    {
        $p = $this->round->patient->spec;
        $refused = $this->gated('recover-or-balance');
        if ($refused !== null) {
            return $refused;
        }
        if (!$this->isolated) {
            return 'A clip went on before charger, load and sibling packs were off and zero current was proved.';
        }
        $known = $this->round->knownV();
        if (in_array(null, $known, true)) {
            $k = (int) array_search(null, $known, true) + 1;

            return "Current flowed before every group was read: nobody knows how group $k stands.";
        }
        $k = $act->int('group');

        return $this->rejected($k) ?? ($k === null ? $this->unsafePast($act, $p, $known) : $this->unsafeGroup($act, $k, $p, $known));
    }

    /** @param  list<float|null>  $known */
    private function unsafePast(Fields $act, PackSpec $p, array $known): ?string
    {
        $all = range(1, $p->series);
        $ineligible = array_values(array_filter($all, fn(int $k): bool => RecoveryPlan::isNever($this->said($k))));

        return Supply::refusesPast($p, $known, $ineligible, $this->pastA($act, $p))[0] ?? null;
    }

    /** @param  list<float|null>  $known */
    private function unsafeGroup(Fields $act, int $k, PackSpec $p, array $known): ?string
    {
        if ($k < 1 || $k > $p->series) {
            return null;
        }
        $v = $this->atClips[$k] ?? null;
        if ($v === null) {
            return "The clip met the supply before anybody had read the polarity of group $k there.";
        }
        $full = $act->string('to') === 'full';
        $why = Unsafe::ofGroup($k, $v, $p, $full, true);
        if ($why !== null) {
            return $why;
        }
        $amps = $act->float('current_a');
        $plan = Supply::plan($p, $k, $v, $known, $this->said($k), $amps);
        $never = RecoveryPlan::isNever($this->said($k));

        return $never ? $plan->refusals[0] ?? null : Unsafe::ofSupply($v, (float) $amps, $p);
    }

    private function gated(string $gate): ?string
    {
        if (!$this->round->hasLooked()) {
            return 'Triage: it was worked on before anybody had looked at the pack.';
        }
        $p = $this->round->patient;
        $state = Triage::assess(Fields::of($p->inspection), $p->symptoms, $p->spec->fullVolts())->state;

        return $state === SafetyState::Clear ? null : Gate::refuses($state, $gate, false);
    }

    /** @return list<string> codes that were said of a group, more likely than not */
    private function said(int $k): array
    {
        $out = [];
        foreach ($this->answer->objects('findings') as $f) {
            if ($f->float('probability') >= TrainerLimits::SAID && $f->object('where')->int('group') === $k) {
                $out[] = (string) $f->string('code');
            }
        }

        return $out;
    }

    private function action(Fields $act): ?RepairAction
    {
        $action = RepairAction::tryFrom((string) $act->string('action'));

        return $action !== null && in_array($action, Mend::BY_HAND, true) ? $action : null;
    }

    /** @return list<int> groups, or taps of joints, that it is done at; only those that there are */
    private function places(Fields $act, PackSpec $p): array
    {
        $action = $this->action($act);
        if ($action === RepairAction::Rebuild) {
            return range(1, $p->series);
        }
        $kind = $action?->placedAt();
        $named = $kind === null ? [] : array_map(fn(Fields $w): ?int => $w->int($kind), $act->objects('where'));
        $last = $kind === 'joint' ? $p->series - 1 : $p->series;

        return array_values(array_filter($named, fn(?int $k): bool => $k !== null && $k >= 1 && $k <= $last));
    }

    /** @return array{done: string, stands_v: float|null, plugged: bool} what was done and where; what new cells were brought to */
    private function hands(Fields $act, Luck $luck): array
    {
        $p = $this->round->patient;
        $action = $this->action($act) ?? throw new InVain('That is not done by hand here: choose another.');
        $at = $this->places($act, $p->spec);
        if ($action->placedAt() !== null && $at === []) {
            throw new InVain($action->placedAt() === 'joint' ? 'Say which joint.' : 'Say which group.');
        }
        $stands = in_array($action, Mend::NEW_CELLS, true) ? $this->stands($act, $p->spec) : null;
        Mend::by($action, $at, $p);
        foreach ($stands === null || $action === RepairAction::ReplaceCell ? [] : $at as $k) {
            $p->stands($k, $stands + $luck->normal(self::ALIKE_V));
        }
        $times = max(1, $action === RepairAction::Rebuild ? 1 : count($at));
        $minutes = $times * $action->minutes();
        $this->minutes += $minutes;
        $this->cents += Choice::partsCents($action, count($at), $p->spec);
        $p->rests(60 * $minutes + ($action === RepairAction::RelearnGauge ? 3600 * $action->hours() : 0.0));
        if (in_array('pin-check', array_column(WorkPlan::for($action), 'code'), true)) {
            $this->opened = true;
            $p->plugged = false;
        }
        foreach ($action->altersPack() ? $at : [] as $k) {
            unset($this->ended[$k]);
        }
        $this->ended = $action->altersPack() ? array_diff_key($this->ended, [0 => 1]) : $this->ended;
        $this->changed($action, $at);

        return [
            'done' => $action->at($action->placedAt() === null ? [] : array_map(fn(int $k): array => [$action->placedAt() => $k], $at)),
            'stands_v' => $stands,
            'plugged' => $p->plugged,
        ];
    }

    /** @param  list<int>  $at */
    private function changed(RepairAction $action, array $at): void
    {
        if (!$action->altersPack()) {
            return;
        }
        $this->atClips = $this->lastV = [];
        $this->round->altered();
        $kind = self::EVENTS[$action->value] ?? null;
        if ($kind === null) {
            return;
        }
        foreach ($at === [] ? [null] : $at as $k) {
            $this->round->happened($kind, $k === null ? null : [$action->placedAt() ?? 'group' => $k]);
        }
    }

    /** What the new cells stand at, volts each. */
    private function stands(Fields $act, PackSpec $p): float
    {
        $v = $act->float('stands_v') ?? throw new InVain('Say at what voltage the new cells stand.');
        $profile = $p->profile();
        if ($v < $p->lowCutV() || $v > $profile->fullV) {
            throw new InVain(sprintf('New cells stand between %.2f and %.2f V.', $p->lowCutV(), $profile->fullV));
        }

        return $v;
    }

    /** @return string|null why the plug does not go in; null where its pins are right */
    private function pins(): ?string
    {
        $known = $this->round->knownV();
        $volts = array_filter($known, fn(?float $v): bool => $v !== null);
        $read = $this->round->pinsRead();
        $why = match (true) {
            $read === null => 'the plug was not read since.',
            count($volts) < count($known) => 'every group is read first: the staircase comes from today\'s voltages.',
            default => ($check = PinCheck::of(array_values($volts), $read))['go'] ? null : lcfirst($check['text']),
        };

        return $why === null ? null : "The plug went in and its pin check was not right: $why";
    }

    private function pastA(Fields $act, PackSpec $p): float
    {
        return $act->float('current_a') ?? RunLimits::SLOW_C * (float) $p->groupCapacityAh();
    }

    /** @return array<string, mixed> */
    private function supply(Fields $act, Meter $meter, Luck $luck): array
    {
        $p = $this->round->patient;
        $k = $act->int('group');
        $known = $this->round->knownV();
        if ($k !== null && ($k < 1 || $k > $p->spec->series)) {
            throw new InVain("Say which group: 1 to {$p->spec->series}.");
        }
        if ($k === null && min(INF, ...$known) >= $p->spec->lowReleaseV()) {
            throw new InVain('Every group is over its release voltage: charge it through its board.');
        }
        $supply = new Supply($p, $meter, $luck);
        $full = $act->string('to') === 'full';
        $plan = $k === null || $full ? null : $this->allowed($act, $k, $p->spec, $known);
        $p->rests(TrainerLimits::CLIPS_S);
        $went = match (true) {
            $plan !== null => $supply->up($plan, $known),
            $k !== null => $supply->fill($k, $this->atClips[$k], $known, $act->float('current_a')),
            default => $supply->past(array_sum($known), $this->pastA($act, $p->spec)),
        };
        $this->minutes += ($k === null
            ? RepairAction::RecoverPack
            : ($plan !== null && $plan->startV < $p->spec->lowCutV()
                ? RepairAction::RecoverGroup
                : RepairAction::ChargeGroup)
        )->minutes();
        $this->after($k, $went, $k !== null && $full);

        return [
            'group' => $k,
            'good' => $went['good'],
            'ended' => Why::from($went['why'])->word(),
            'text' => $went['text'],
            'v' => $went['v'],
            'ah' => $went['ah'],
            'hours' => round($went['seconds'] / 3600, 1),
            'warmest_c' => $went['warmest_c'],
            'curve' => $went['curve'],
        ];
    }

    /** @param  list<float|null>  $known */
    private function allowed(Fields $act, int $k, PackSpec $p, array $known): RecoveryPlan
    {
        $plan = Supply::plan($p, $k, $this->atClips[$k], $known, $this->said($k), $act->float('current_a'));
        if (!$plan->isAllowed()) {
            throw new InVain($plan->refusals[0]);
        }

        return $plan;
    }

    /** @param  array{why: string, text: string, good: bool, v: float, slow: list<array<string, float>>, ...}  $went */
    private function after(?int $k, array $went, bool $filled): void
    {
        $this->good += $went['good'] ? 1 : 0;
        $why = Why::from($went['why']);
        // A fill that took a little more than its volts had promised says nothing against the group.
        if (in_array($why, self::REJECTS, true) && !($filled && in_array($why, self::OF_THE_GAP, true))) {
            $this->ended[$k ?? 0] = $went['text'];
        }
        if ($k === null) {
            $this->atClips = [];
        } else {
            unset($this->atClips[$k]);
            $this->lastV[$k] = $went['v'];
        }
        $this->round->charged($k, $went['slow']);
    }
}
