<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\NextTest;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Diagnosis\Verdict;
use Heartwood\Core\Fault\Family;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Limits\TrainerLimits;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Record\Fields;

/** Plays a round as the verdict's own advice has it: look, read, then each next test, until what is wrong is sure. */
final class Tool
{
    /** Tests after the first readings, at most. */
    private const MOST = 14;

    /** Days that it waits where the advice names none, and with the sense plug out before it reads first. */
    private const WAIT_DAYS = 4.0;

    private const AT_ONCE_DAYS = 0.02;

    public const REFILL_DAYS = 9;

    private const DAY_H = 24;

    /** Amps of a load step at most. */
    private const LOAD_A = 20.0;

    public const WAKES = ['charger-pulse', 'button', 'reconnect', 'device'];

    /** A group this far from the middle of all is read again, volts. */
    private const STRANGE_V = 0.3;

    /** Once something is sure, a test has to promise as much as this to be done. */
    private const WORTH_BITS = 0.3;

    /** Sure enough to stop. */
    private const SURE = 0.9;

    /** @var list<array<string, mixed>> */
    public array $acts = [];

    public int $seconds = 0;

    /** Ways to wake it that were tried. */
    private int $woken = 0;

    public function __construct(private readonly Round $round) {}

    /** @return Verdict what it came to */
    public function play(): Verdict
    {
        $this->do(['do' => 'look']);
        $this->readAll();
        $tried = [];
        for ($n = 0; ; $n++) {
            $verdict = $this->round->verdict();
            $next = $n >= self::MOST || $this->round->unsafe !== null ? null : $this->chosen($verdict, $tried);
            if ($next === null || ($next->gainBits < self::WORTH_BITS && $this->settled($verdict))) {
                return $verdict;
            }
            $tried[$next->test->value . $next->place->key()] = true;
            $this->carryOut($next);
        }
    }

    /**
     * @return array{findings: list<array{code: string, where: array<string, int|string>|null, probability: float}>, option: array<string,
     *   mixed>|null} as it would answer
     */
    public static function answer(Verdict $verdict): array
    {
        $option = $verdict->options[0] ?? null;

        return [
            'findings' => array_map(
                fn(Finding $f): array => [
                    'code' => $f->code,
                    'where' => $f->place->toArray(),
                    'probability' => round(min(0.999, $f->probability), 3),
                ],
                // How a pack stands is no cause, and nobody is asked for it.
                array_values(
                    array_filter(
                        $verdict->findings,
                        fn(Finding $f): bool => $f->probability >= Finding::LISTED && !Score::describes($f->code),
                    ),
                ),
            ),
            'option' => $option === null ? null : array_intersect_key($option->toArray(), ['action' => 1, 'where' => 1]),
        ];
    }

    /** What is likely is sure, and it is more than a word on a reading, a label or what follows. */
    private function settled(Verdict $v): bool
    {
        $open = array_filter($v->findings, fn(Finding $f): bool => $f->probability > 1 - self::SURE && $f->probability < self::SURE);
        $sure = array_filter(
            $v->findings,
            fn(Finding $f): bool => $f->probability >= self::SURE && Faults::of($f->code)->family() !== Family::Derived,
        );

        return $open === [] && $sure !== [];
    }

    /** @param  array<string, true>  $tried */
    private function chosen(Verdict $v, array $tried): ?NextTest
    {
        foreach ($v->nextTests as $t) {
            if (!isset($tried[$t->test->value . $t->place->key()]) && $this->canDo($t->test)) {
                return $t;
            }
        }

        return null;
    }

    private function canDo(TestKind $t): bool
    {
        return !in_array($t, [TestKind::BoardReport, TestKind::HalfString, TestKind::LowImpedanceTerminal], true);
    }

    private function carryOut(NextTest $t): void
    {
        $p = $this->round->patient->spec;
        $ah = (float) $p->groupCapacityAh();
        $k = $t->place->number;
        $group = ['scope' => ['group' => $k], 'where' => ['group' => $k]];
        match ($t->test) {
            TestKind::RestTaps => $this->readAll(),
            TestKind::GroupReading => $this->read($k),
            TestKind::RestAgain => $this->again(preg_match('/Read again (\d+) days/', $t->why, $m) === 1 ? (float) $m[1] : self::WAIT_DAYS),
            TestKind::SenseUnpluggedRest => $this->unplugged(),
            TestKind::LoadStep => $this->do([
                'do' => 'load',
                'current_a' => -round(min($ah, 0.6 * (float) $p->bms->float('discharge_limit_a'), self::LOAD_A), 1),
                'seconds' => 60,
            ]),
            TestKind::ChargeStep => $this->do(['do' => 'charge', 'current_a' => round(0.25 * $ah, 1), 'minutes' => 2]),
            TestKind::RelaxingRead => $this->readAll(),
            TestKind::Refill => $this->each('refill', ['days' => self::REFILL_DAYS]),
            TestKind::CapacityGroup => $this->each('capacity', []),
            TestKind::CapacityPack => $this->drawn(),
            TestKind::ResistanceCell => $this->each('resistance', []),
            TestKind::FullChargeWatch => $this->test(['kind' => 'charge']),
            TestKind::FullDischargeWatch => $this->emptied(),
            TestKind::Wake => $this->test(['kind' => 'wake', 'action' => $this->wakeBy()]),
            TestKind::Continuity => $t->place->kind === 'joint' || $t->place->kind === 'tap'
                ? $this->test(['kind' => 'continuity', 'element' => 'joint', 'where' => ['joint' => $k]])
                : $this->path(),
            TestKind::Flex => $this->flexed(),
            TestKind::RecoveryTrial => $this->test([
                'kind' => 'recovery',
                'scope' => ['group' => $k],
                'current_a' => RunLimits::SLOW_C * $ah,
            ]),
            TestKind::ChargerCheck => $this->test(['kind' => 'charger']),
            TestKind::GaugeRelearn => $this->test(['kind' => 'gauge']),
            default => $this->test(['kind' => $t->test->value] + $group),
        };
    }

    /** @param  array<string, mixed>  $more */
    private function each(string $kind, array $more): void
    {
        for ($k = 1; $k <= $this->round->patient->spec->series; $k++) {
            $this->test(['kind' => $kind, 'scope' => ['group' => $k]] + $more);
        }
    }

    /** What was taken out is put back before anything else is read. */
    private function emptied(): void
    {
        $this->test(['kind' => 'discharge']);
        $took = (float) $this->round->lastTest()->float('after_ah');
        $amps = round(0.2 * (float) $this->round->patient->spec->groupCapacityAh(), 2);
        $took > 0.0 && $this->do(['do' => 'charge', 'current_a' => $amps, 'minutes' => round((60 * $took) / $amps, 1)]);
    }

    /** What the pack gives, and beside it what its gauge believes. */
    private function drawn(): void
    {
        $this->test(['kind' => 'capacity', 'scope' => 'pack']);
        if (array_intersect($this->round->patient->symptoms, ['gauge-wrong', 'gauge-jumps']) !== []) {
            $this->test(['kind' => 'gauge']);
        }
    }

    private function path(): void
    {
        foreach (['fuse', 'switch', 'connector'] as $element) {
            $this->test(['kind' => 'continuity', 'element' => $element]);
        }
    }

    private function flexed(): void
    {
        foreach (['connector', 'main lead'] as $element) {
            $this->test(['kind' => 'flex', 'element' => $element]);
        }
    }

    private function wakeBy(): string
    {
        return self::WAKES[min(count(self::WAKES) - 1, $this->woken++)];
    }

    private function unplugged(): void
    {
        $this->do(['do' => 'unplug']);
        $this->again(self::AT_ONCE_DAYS);
        $this->again(self::WAIT_DAYS);
        $this->do(['do' => 'plug']);
    }

    private function again(float $days): void
    {
        $this->do(['do' => 'wait', 'hours' => self::DAY_H * $days]);
        $this->readAll();
    }

    private function readAll(): void
    {
        $all = range(1, $this->round->patient->spec->series);
        $seen = array_map($this->read(...), $all);
        $known = array_filter($seen, is_float(...));
        $middle = $known === [] ? 0.0 : Robust::median(array_values($known));
        // What stands far from its fellows is read once more before anything is believed of it.
        foreach ($known as $i => $v) {
            if (abs($v - $middle) > self::STRANGE_V) {
                $this->read($all[$i]);
            }
        }
        $this->do(['do' => 'read', 'from' => 'T0', 'to' => 'T' . $this->round->patient->spec->series]);
        $this->do(['do' => 'read', 'from' => 'P-', 'to' => 'P+']);
    }

    /** @return float|null what the meter showed of a group */
    private function read(int $k): ?float
    {
        return $this->do(['do' => 'read', 'from' => 'T' . ($k - 1), 'to' => "T$k"])->float('v');
    }

    /** @param  array<string, mixed>  $test */
    private function test(array $test): void
    {
        $this->do(['do' => 'test', 'test' => $test]);
    }

    /** @param  array<string, mixed>  $act */
    private function do(array $act): Fields
    {
        if ($this->round->unsafe !== null || count($this->acts) >= TrainerLimits::ACTS) {
            return Fields::of(null);
        }
        // What a gate refuses is not tried: of several groups the one under its cut-off is left alone.
        if ((new Unsafe($this->round))->why(new Fields($act)) !== null) {
            return Fields::of(null);
        }
        $this->acts[] = $act;
        $played = $this->round->play(new Fields($act));
        $this->seconds += $played['seconds'];

        return Fields::of($played['result']);
    }
}
