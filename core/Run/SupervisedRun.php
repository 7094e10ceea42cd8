<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;

/**
 * One supervised run, whatever its kind: prove with the output off, drive, watch, end. Moved by samples and by what people
 * say, and by no clock of its own: the same samples give the same run, so a run is built again from its journal, and a
 * replay is the run (handbook chapters "Safety gates", "Recovery of a deep-discharged group").
 */
final class SupervisedRun implements Supervised
{
    private RunKind $kind;

    /** @var list<StopRule> */
    private array $rules;

    private Phase $phase = Phase::Prove;

    /** What drives, or is being proved for. */
    private Phase $working;

    private Prover $prover;

    private Order $order;

    private History $history;

    private Intervals $intervals;

    private ?Broken $end = null;

    private ?float $endedAt = null;

    private ?AfterStop $after = null;

    private ?string $paused = null;

    private bool $clipped;

    private ?float $startedAt = null;

    private float $lastT = 0.0;

    private float $phaseAt = 0.0;

    private ?float $offAt = null;

    private Seen $seen;

    private ?float $lastA = null;

    private ?float $lastDrivenV = null;

    private float $lastDrivenA = 0.0;

    private float $ah = 0.0;

    private float $gapAh = 0.0;

    private float $ambientC;

    private float $ambientAt = 0.0;

    private float $confirmedAt = 0.0;

    /** The gap to the target has not begun to be filled. */
    private bool $gapFresh = true;

    private int $jumps = 0;

    private float $jumpsFrom = -INF;

    /** Samples of a trial that measured as ordered; null when no trial is on. */
    private ?int $trial = null;

    /** @var list<array{at: float, text: string}> */
    private array $log = [];

    public function __construct(private RunPlan $plan)
    {
        $plan->capacityAh();
        $this->kind = RunKind::of($plan);
        $this->working = $this->kind->first();
        $this->order = Order::off(Phase::Prove);
        $this->rules = [
            new Rule\Polarity(),
            new Rule\GroupFloor(),
            new Rule\PastFull(),
            new Rule\SupplyVolts(),
            new Rule\Temperature(),
            new Rule\OverCurrent(),
            new Rule\NotAsOrdered(),
            new Rule\NoCurrent(),
            new Rule\Falls(),
            new Rule\Hangs(),
            new Rule\TooMuch(),
        ];
        $this->history = new History(
            max(RunLimits::RISES_S, Rule\Hangs::span($plan->capacityAh(), abs($plan->amps(Phase::Precharge)))),
            $plan->ohm(),
        );
        $this->intervals = new Intervals();
        $this->prover = Prover::ofPlan($plan, 0.0);
        $this->ambientC = $plan->ambientC;
        $this->seen = new Seen($plan);
        $this->clipped = !$plan->asksClip;
    }

    /** @param  iterable<Sample|Said>  $samplesAndEvents  in their order */
    public static function replay(RunPlan $plan, iterable $samplesAndEvents): self
    {
        $run = new self($plan);
        foreach ($samplesAndEvents as $x) {
            $x instanceof Sample ? $run->take($x) : $run->hear($x);
        }

        return $run;
    }

    public function take(Sample $s): Order
    {
        if ($this->startedAt !== null && $s->t < $this->lastT) {
            return $this->order;
        }
        $this->begins($s->t);
        if ($this->end !== null) {
            $this->after?->take($s);
            $this->seen->keep($s);

            return $this->order;
        }
        $jump = $this->jump($s);
        $m = $this->moment($s, $jump !== null);
        $this->intervals->add($s->t);
        $broken = Broken::first([
            ...array_map(fn(StopRule $r): ?Broken => $r->check($m), $this->rulesNow($jump !== null)),
            ...$this->clock($s->t),
            $this->prove($s),
        ]);
        if ($broken === null && !$this->lost($s, $m)) {
            $broken = $jump !== null ? $this->jumped($s, $jump) : $this->advance($s, $m);
        }
        $this->remember($s, $m->on);
        if ($broken !== null) {
            $this->finish($broken, $s->t);
        }

        return $this->order;
    }

    /** The clock went on and no sample came. */
    public function tick(float $t): Order
    {
        if ($this->end !== null) {
            $this->after?->tick($t);
        }
        if ($this->end !== null || $this->startedAt === null || $t < $this->lastT) {
            return $this->order;
        }
        $broken = Broken::first([
            ...$this->clock($t),
            $this->phase === Phase::Prove && $this->paused === null && $this->clipped ? $this->prover->late($t) : null,
        ]);
        if ($broken !== null) {
            $this->finish($broken, $t);
        } else {
            $this->late($t);
        }

        return $this->order;
    }

    public function hear(Said $said): Order
    {
        $t = $said->t;
        if ($said->do === 'present') {
            $this->confirmedAt = max($this->confirmedAt, $t);
        }
        if ($this->end !== null) {
            if ($said->do === 'leave') {
                $this->after?->leave($said->why);
            }

            return $this->order;
        }
        match ($said->do) {
            'pause' => $this->pause($t, $said->why),
            'resume' => $this->resume($t),
            'end' => $this->finish(new Broken(Why::Person, $said->why === '' ? 'Ended by hand' : ucfirst($said->why)), $t),
            'plan' => $this->replan($t, (float) $said->v),
            'clipped' => $this->clip($t),
            'ambient' => ([$this->ambientC, $this->ambientAt] = [(float) $said->v, $t]),
            default => null,
        };

        return $this->order;
    }

    public function order(): Order
    {
        return $this->order;
    }

    public function plan(): RunPlan
    {
        return $this->plan;
    }

    public function ended(): ?Broken
    {
        return $this->end;
    }

    public function endedAt(): ?float
    {
        return $this->endedAt;
    }

    public function isOver(): bool
    {
        return $this->end !== null;
    }

    public function isPaused(): bool
    {
        return $this->paused !== null;
    }

    public function isWatchedOut(): bool
    {
        return $this->end !== null && ($this->after === null || $this->after->isOver());
    }

    public function group(): int
    {
        return $this->plan->group ?? 0;
    }

    public function phase(): Phase
    {
        return $this->phase;
    }

    /** Amp-hours into the pack so far, negative out of it. */
    public function ahIn(): float
    {
        return $this->ah;
    }

    public function warmestC(): float
    {
        return $this->seen->warmest();
    }

    /** @return list<array{at: float, text: string}> what happened, in words */
    public function log(): array
    {
        return $this->log;
    }

    public function view(): array
    {
        return RunView::of(
            $this,
            new RunFacts(
                $this->phase,
                $this->working,
                $this->paused,
                $this->clipped,
                $this->startedAt ?? 0.0,
                $this->phaseAt,
                $this->lastT,
                $this->seen->volts(),
                $this->seen->amps(),
                $this->seen->celsius(),
                $this->ah,
                $this->gapAh,
                $this->kind->mostAh(),
                $this->kind->lasts($this->phase),
                $this->ambientC,
                $this->ambientAt,
                $this->seen->wholeAt(),
                $this->history,
                $this->prover,
                $this->seen->whole(),
                $this->after,
                $this->trial !== null,
                $this->log,
                $this->confirmedAt,
                $this->kind->start(),
            ),
        );
    }

    private function begins(float $t): void
    {
        if ($this->startedAt === null) {
            $this->startedAt = $this->phaseAt = $this->confirmedAt = $this->ambientAt = $this->lastT = $t;
            $this->seen->waitsFrom($t);
            $this->prover->startsAt($t);
        }
    }

    private function moment(Sample $s, bool $jumped): Moment
    {
        $on = $this->order->on;
        $gap = $s->t - $this->lastT;
        $this->ambientC = $s->ambientC ?? $this->ambientC;
        $a = $this->flowing($s, $on);
        $put = (($this->lastA === null ? $a : ($a + $this->lastA) / 2) * $gap) / 3600;
        if ($on || abs($a) > $this->plan->offA()) {
            $this->ah += $put;
            $this->gapAh += $put;
        }
        $m = new Moment(
            $this->plan,
            $s,
            $this->order,
            $this->working,
            $on,
            $this->offAt === null ? null : $s->t - $this->offAt,
            $this->history,
            $this->ambientC,
            $this->ah,
            $this->gapAh,
            $this->kind->mostAh(),
            $on ? (abs($a) * $gap) / 3600 : 0.0,
        );
        $flows = $on && $a * $this->plan->sign() >= RunLimits::NO_CURRENT_SHARE * abs($this->order->amps);
        if ($flows && !$jumped) {
            $this->history->add(min($gap, RunLimits::LOST_MOST_S), $s);
        }

        return $m;
    }

    /** Amps that are taken to flow: as read; where they are not read, as before, or as ordered; a blind ammeter's as ordered. */
    private function flowing(Sample $s, bool $on): float
    {
        if (!$on) {
            return (float) $s->a;
        }

        return abs($this->order->amps) < $this->plan->resolutionA - Tiny::SLACK
            ? $this->order->amps
            : $s->a ?? ($this->lastA ?? $this->order->amps);
    }

    /**
     * @param  bool  $jumped  a clip has moved: what it reads now says nothing of the group's own course
     * @return list<StopRule>
     */
    private function rulesNow(bool $jumped): array
    {
        return match (true) {
            $jumped => array_values(
                array_filter($this->rules, fn(StopRule $r): bool => !($r instanceof Rule\Falls) && !($r instanceof Rule\Hangs)),
            ),
            // While it is paused only what is dangerous with the output off ends it.
            $this->paused !== null => [new Rule\Temperature(), new Rule\NotAsOrdered()],
            // Before the supply's clip is on, the meter's probes may still be anywhere.
            !$this->clipped => [new Rule\Temperature()],
            default => $this->rules,
        };
    }

    /** @return list<Broken|null> what the clock alone can end */
    private function clock(float $t): array
    {
        $every = $this->plan->confirmEveryMin;
        $closes = $this->plan->closesAtS;
        $awaits = $this->paused !== null || !$this->clipped;
        $since = $t - ($this->seen->wholeAt() ?? $t);

        return [
            $every !== null && $t - $this->confirmedAt > 60 * $every + RunLimits::PRESENCE_GRACE_S
                ? new Broken(Why::NobodyPresent, 'Nobody has said that they are here')
                : null,
            $closes !== null && $t >= $closes ? new Broken(Why::ClosingTime, 'The shop closes: nothing is charged unattended') : null,
            !$awaits && $since > $this->endsAfter()
                ? new Broken(Why::ReadingMissing, sprintf('No whole reading for %.0f min: nobody is watching', $since / 60))
                : null,
        ];
    }

    private function prove(Sample $s): ?Broken
    {
        if ($this->phase !== Phase::Prove || $this->paused !== null) {
            return null;
        }
        $certain = $this->prover->look($s, $this->order->hasSetPoints() || !$this->working->drives(), $this->order);
        if (!$this->clipped) {
            $this->prover->startsAt($s->t);

            return null;
        }

        return $certain;
    }

    /** A reading is missing for too long: off at once, prove anew. Also after a gap that only now is over. */
    private function lost(Sample $s, Moment $m): bool
    {
        if ($m->on && $s->overload) {
            $this->proveAnew($s->t, 'a meter in overload');

            return true;
        }

        return $m->on && $this->late($s->t);
    }

    private function late(float $t): bool
    {
        if (!$this->order->on || $this->end !== null || $this->paused !== null) {
            return false;
        }
        $most = $this->plan->byHand
            ? Asked::seconds($this->plan, $this->phase, $this->history, $this->seen->volts(), $t - $this->phaseAt) + RunLimits::HAND_LATE_S
            : $this->intervals->lostAfter($this->plan->hurried);
        $warmth = $this->plan->byHand ? $most : RunLimits::LOST_MOST_S;
        $what = $this->seen->lacks($t, $most, $warmth, RunLimits::LOST_MOST_S);
        if ($what === null) {
            return false;
        }
        $this->proveAnew($t, "$what not read in time");

        return true;
    }

    /** @return float|null volts before, where they jumped as no group does from one look to the next: a clip has moved */
    private function jump(Sample $s): ?float
    {
        $last = $this->seen->withVolts();
        $watching = $this->order->on || $this->phase === Phase::Rest || $this->phase === Phase::Settle;
        if (
            !$watching ||
            $this->paused !== null ||
            $s->v === null ||
            $last === null ||
            $last->v === null ||
            $s->t - $last->t > RunLimits::JUMP_S + Tiny::SUM
        ) {
            return null;
        }
        $n = $this->plan->n();
        $ohm = $this->plan->ohm();
        $a = $this->flowing($s, $this->order->on);
        $before = $last->a ?? $a;
        $step = $s->v - $a * $ohm - ($last->v - $before * $ohm);
        // What a current that was just changed leaves behind is no jump.
        $justOff = $this->offAt !== null && !$this->order->on && $s->t - $this->offAt < RunLimits::JUMP_S;
        $slow = max(RunLimits::RELAXES * $ohm, RunLimits::RELAXES_SHOWN * ($this->kind->learntOhm() ?? 0.0));
        $relaxes = abs($a - $before) * $slow + ($justOff ? abs($this->lastDrivenA) * $slow : 0.0);

        return $step > $n * RunLimits::JUMP_UP_V + $relaxes || $step < -$n * RunLimits::JUMP_DOWN_V - $relaxes ? $last->v : null;
    }

    private function jumped(Sample $s, float $was): ?Broken
    {
        if ($s->t - $this->jumpsFrom > RunLimits::JUMPS_S) {
            [$this->jumps, $this->jumpsFrom] = [0, $s->t];
        }
        if (++$this->jumps >= RunLimits::JUMPS) {
            return new Broken(Why::ClipsOpen, 'The clips do not hold: volts have jumped five times within 10 min');
        }
        $amps = $this->order->on ? $this->order->amps : 0.0;
        $this->off($s->t, sprintf('from %.3f V to %.3f V at one step: proved anew', $was, $s->v));
        $this->prover = Prover::jumped($this->plan, $s->t, $was, $amps);

        return null;
    }

    private function advance(Sample $s, Moment $m): ?Broken
    {
        if ($this->paused !== null) {
            return null;
        }
        if ($this->phase === Phase::Prove) {
            if ($this->prover->hasPassed()) {
                $this->switchOn($s);
            } elseif ($this->clipped && $this->prover->hasRound() && !$this->order->hasSetPoints() && $this->working->drives()) {
                $this->order = Order::off(Phase::Prove, $this->plan->volts(), $this->allowed($s->c));
            }

            return null;
        }
        if (!$s->hasVoltsAndAmps() || ($s->c === null && !$this->order->on)) {
            return null;
        }
        if ($m->on) {
            $this->lastDrivenV = $s->v;
            $this->lastDrivenA = (float) $s->a;
            if ($this->trial !== null && !$this->tried($m)) {
                return null;
            }
            $this->cool($s);
        }
        $step = $this->kind->step($m, $this->phase, $s->t - $this->phaseAt);
        if ($step->end !== null) {
            return $step->end;
        }
        if ($step->begin !== null) {
            $this->note($s->t, $step->note);
            $this->begin($step->begin, $s);
        }

        return null;
    }

    /** A supply that cannot be read back is tried with a tenth: what is measured must be what was ordered. */
    private function tried(Moment $m): bool
    {
        $a = (float) $m->along();
        $set = abs($m->order->amps);
        $asOrdered =
            $m->isBlind() ||
            $a >= RunLimits::AS_ORDERED_SHARE * $set - $this->plan->resolutionA / 2 ||
            ($this->plan->charges() && (float) $m->s->v >= $m->order->volts - RunLimits::AT_VOLTAGE_V);
        $this->trial = $asOrdered ? (int) $this->trial + 1 : 0;
        if ($this->trial < RunLimits::TRIAL_SAMPLES) {
            return false;
        }
        $this->trial = null;
        $this->order = Order::drive($this->plan->volts(), $this->kind->amps($this->working), $this->working);
        $this->note($m->s->t, 'a tenth of the current measured as ordered: all of it now');

        return true;
    }

    /** At 0 to 10 degC no more than C/10. */
    private function cool(Sample $s): void
    {
        if ($this->trial !== null || !$this->plan->charges() || $s->c === null) {
            return;
        }
        $amps = $this->allowed($s->c);
        // Back to the full current only once it is clearly warmer.
        if (
            abs($amps) < abs($this->order->amps) - Tiny::SLACK ||
            ($s->c > RunLimits::COOL_C + 1.0 && abs($amps) > abs($this->order->amps) + Tiny::SLACK)
        ) {
            $this->order = Order::drive($this->plan->volts(), $amps, $this->working);
        }
    }

    private function allowed(?float $c): float
    {
        $amps = $this->kind->amps($this->working);

        return $this->plan->charges() && $c !== null && $c < RunLimits::COOL_C
            ? min($amps, RunLimits::SLOW_MOST_C * $this->plan->capacityAh())
            : $amps;
    }

    private function switchOn(Sample $s): void
    {
        if ($this->lastDrivenV === null) {
            $this->kind->began($this->working, (float) $s->v, $this->ah);
            $this->gapAh = 0.0;
        }
        if (!$this->working->drives()) {
            // It was resting: a rest that nobody watched proves nothing, so it begins anew.
            $this->phase = $this->working;
            $this->phaseAt = $s->t;
            $this->order = Order::off($this->phase);
            $this->kind->began($this->working, (float) $s->v, $this->ah);

            return;
        }
        $amps = $this->allowed($s->c);
        $unread = !$this->plan->byHand && ($s->setV === null || $s->setA === null);
        $this->trial = $unread ? 0 : null;
        $this->order = Order::drive($this->plan->volts(), $unread ? RunLimits::TRIAL_SHARE * $amps : $amps, $this->working);
        $this->phase = $this->working;
        $this->phaseAt = $s->t;
        $this->history->cameOn();
        $this->note($s->t, sprintf('proved: %.3f V at the clips%s; output on', $s->v, $unread ? ', a tenth of the current first' : ''));
    }

    private function begin(Phase $phase, Sample $s): void
    {
        $was = $this->working;
        $this->working = $phase;
        $this->kind->began($phase, (float) $s->v, $this->ah);
        if ($phase->drives()) {
            if (!$was->drives() && $this->gapFresh) {
                $this->gapAh = 0.0;
                $this->gapFresh = false;
            }
            // From rest to current: the new set-points first, with the output off.
            $this->phase = Phase::Prove;
            $this->order = Order::off(Phase::Prove);
            $this->prover = Prover::resumed($this->plan, $s->t, max((float) $s->v, $this->lastDrivenV ?? 0.0));
            $this->prover->look($s, false, $this->order);
            $this->order = Order::off(Phase::Prove, $this->plan->volts(), $this->allowed($s->c));

            return;
        }
        $this->phase = $phase;
        $this->phaseAt = $s->t;
        $this->offAt = $s->t;
        $this->history->rested();
        $this->order = Order::off($phase);
    }

    private function proveAnew(float $t, string $why): void
    {
        $this->off($t, "$why: output off, proved anew");
        $this->prover = Prover::resumed($this->plan, $t, $this->lastDrivenV);
    }

    private function off(float $t, string $why): void
    {
        if ($this->order->on) {
            $this->offAt = $t;
        }
        $this->phase = Phase::Prove;
        $this->trial = null;
        $this->order = Order::off(Phase::Prove);
        $this->note($t, $why);
    }

    private function pause(float $t, string $why): void
    {
        $this->begins($t);
        if ($this->paused === null) {
            $this->paused = $why === '' ? 'paused by hand' : $why;
            $this->off($t, "paused: $this->paused");
        }
    }

    private function resume(float $t): void
    {
        if ($this->paused !== null) {
            $this->paused = null;
            $this->seen->waitsFrom($t);
            $this->confirmedAt = max($this->confirmedAt, $t);
            $this->prover = Prover::resumed($this->plan, $t, $this->lastDrivenV);
            $this->note($t, 'resumed: proved anew');
        }
    }

    private function replan(float $t, float $v): void
    {
        $this->plan = $this->plan->withReading($v);
        $this->note($t, sprintf('read anew: %.3f V', $v));
        if ($this->phase === Phase::Prove && $this->paused === null) {
            $this->prover = Prover::ofPlan($this->plan, $t);
        }
    }

    private function clip(float $t): void
    {
        // The meter has read the polarity before the supply's clip goes on (handbook "Gates on work").
        if (!$this->clipped && ($this->seen->volts() ?? 0.0) >= RunLimits::OPEN_V) {
            $this->begins($t);
            $this->clipped = true;
            $this->seen->waitsFrom($t);
            $this->prover = Prover::ofPlan($this->plan, $t);
            $this->note($t, 'clips on, says the person');
        }
    }

    private function finish(Broken $broken, float $t): void
    {
        $this->end = $broken;
        $this->endedAt = $t;
        $this->paused = null;
        $this->phase = $broken->why->isGood() ? Phase::Done : Phase::Stopped;
        // Whatever was read of it: an output that has been on has let current through.
        $driven = $this->lastDrivenV !== null || $this->order->on || $this->offAt !== null;
        $this->order = Order::off($this->phase);
        $this->offAt = $t;
        $this->after = $driven ? new AfterStop($this->plan, $t, $this->ambientC, $this->seen->celsius()) : null;
        $this->note($t, ($broken->why->isGood() ? '' : 'stopped: ') . $broken->text);
    }

    /** @param  bool  $wasOn  the output was on up to this sample */
    private function remember(Sample $s, bool $wasOn): void
    {
        $this->lastT = $s->t;
        $this->seen->keep($s);
        // Current before a switch says nothing of the time after it.
        $this->lastA = $this->order->on === $wasOn ? $s->a ?? $this->lastA : null;
    }

    private function endsAfter(): float
    {
        return $this->plan->byHand
            ? max(
                RunLimits::MISSING_S,
                Asked::seconds($this->plan, $this->phase, $this->history, $this->seen->volts(), 0.0) + 2 * RunLimits::HAND_LATE_S,
            )
            : RunLimits::MISSING_S;
    }

    private function note(float $t, string $text): void
    {
        $this->log[] = ['at' => round($t, 1), 'text' => $text];
    }
}
