<?php

declare(strict_types=1);

namespace App\Instruments;

use Heartwood\Core\Balance\BalanceRun;
use Heartwood\Core\Reading\BoardReport;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Recovery\Attendance;
use Heartwood\Core\Recovery\BypassRun;
use Heartwood\Core\Recovery\RecoveryPlan;
use Heartwood\Core\Recovery\RecoveryPolicy;
use Heartwood\Core\Recovery\RecoveryRun;
use Heartwood\Core\Recovery\Sample;
use Heartwood\Core\Recovery\SupervisedRun;

/**
 * Drives one run: reads the meter and the supply, gives the sample to the rules, does what they say, keeps the journal.
 * The output goes off when the rules say so, when a screen no longer watches, when an instrument is silent; and by the
 * supply's own timer when this process is gone.
 */
final class Runner
{
    /** A screen asks about four times a second; this long without it means that nobody sees what happens. */
    private const UNSEEN_S = 3.0;

    private SupervisedRun $run;

    private Attendance $attendance;

    private ?Meter $meter = null;

    private ?Supply $supply = null;

    private ?Line $board = null;

    private string $timer = '';

    private float $scale;

    private float $startedWall;

    private bool $driving = false;

    private int $heard = 0;

    private float $wrote = -1e9;

    private string $lastPhase = '';

    private ?string $fault = null;

    private ?Sample $last = null;

    /** An instrument that is silent is not asked again at once: the other runs must not wait for it. */
    private float $askAgain = 0.0;

    /** @param  \Closure(): float  $wall  seconds since the epoch */
    public function __construct(private readonly RunFolder $folder, private readonly \Closure $wall)
    {
        $plan = $folder->plan();
        $this->scale = max(1.0, min(60.0, (float) ($plan['time_scale'] ?? 1.0)));
        $this->startedWall = (float) ($plan['started'] ?? $wall());
        $policy = new RecoveryPolicy('A', (float) ($plan['confirm_every_min'] ?? 30.0), isset($plan['closes_at']) ? ((float) $plan['closes_at'] - $this->startedWall) : null);
        $this->attendance = new Attendance($policy, 0.0);
        $this->run = self::machine($plan);
        if (is_array($plan['meter'] ?? null)) {
            $this->meter = new Meter((string) $plan['meter']['host'], (int) $plan['meter']['port']);
        }
        if (is_array($plan['supply'] ?? null) && ($plan['supply']['timer'] ?? '') !== '') {
            $this->supply = new Supply((string) $plan['supply']['host'], (int) $plan['supply']['port']);
            $this->timer = (string) $plan['supply']['timer'];
        }
        if (is_array($plan['board'] ?? null)) {
            $this->board = new Line((string) $plan['board']['host'], (int) $plan['board']['port']);
        }
        $this->rebuild();
    }

    /** @param  array<string, mixed>  $plan */
    public static function machine(array $plan): SupervisedRun
    {
        return match ($plan['kind'] ?? '') {
            'balance' => new BalanceRun(array_values((array) $plan['order']), (float) $plan['volts'], (float) $plan['amps'], (float) ($plan['ambient_c'] ?? 20.0)),
            'bypass' => new BypassRun(PackSpec::from(new Fields((array) $plan['pack'])), (float) $plan['amps'], (float) ($plan['ambient_c'] ?? 20.0)),
            default => new RecoveryRun(RecoveryPlan::fromArray((array) $plan['plan'])),
        };
    }

    /** The same machine, moved again by everything the journal has. @param  list<array<string, mixed>>  $journal */
    public static function replay(SupervisedRun $run, array $journal): SupervisedRun
    {
        foreach ($journal as $e) {
            $t = (float) ($e['t'] ?? 0.0);
            match ($e['is'] ?? '') {
                'sample' => $run->take(Sample::of($t, $e['v'] ?? null, $e['a'] ?? null, $e['c'] ?? null, isset($e['g']) ? array_values((array) $e['g']) : null)),
                'tick' => $run->tick($t),
                'pause' => $run->pause($t, (string) ($e['why'] ?? '')),
                'resume' => $run->resume($t),
                'clipped' => $run->clipped($t),
                'abort' => $run->abort($t, (string) ($e['why'] ?? '')),
                default => null,
            };
        }

        return $run;
    }

    private function rebuild(): void
    {
        $journal = $this->folder->journal();
        self::replay($this->run, $journal);
        foreach ($journal as $e) {
            if (isset($e['heard'])) {
                $this->heard = max($this->heard, (int) $e['heard']);
            }
            if (($e['is'] ?? '') === 'confirm') {
                $this->attendance->confirm((float) ($e['wall'] ?? 0.0));
            }
        }
        if ($journal !== [] && ! $this->run->isOver()) {
            // Whatever stood on when the last runner went, is off now.
            $this->driving = true;
            $this->off();
            $this->pause('the runner was away');
        }
    }

    public function isOver(): bool
    {
        return $this->run->isOver();
    }

    /** One turn, about four a second. */
    public function turn(): void
    {
        $wall = ($this->wall)();
        $t = $this->t($wall);
        $this->listen($t, $wall);
        if (! $this->run->isOver() && ! $this->run->isPaused()) {
            $nobody = $this->attendance->refuses($wall - $this->startedWall);
            if ($nobody !== null) {
                $this->pause($nobody);
            } elseif ($this->folder->unseenFor() > self::UNSEEN_S) {
                $this->pause('no screen is watching');
            }
        }
        if (! $this->run->isOver() && ($this->meter !== null || $this->supply !== null)) {
            $this->sample();
        } elseif ($this->driving) {
            $this->obey();
        }
        if ($this->run->isOver()) {
            $this->off();
        }
        $this->show($wall);
    }

    public function finish(): void
    {
        $this->off();
        $this->folder->note(['is' => 'closed', 't' => $this->t(($this->wall)())]);
        $this->folder->close();
    }

    private function sample(): void
    {
        if (($this->wall)() < $this->askAgain) {
            return;
        }
        try {
            $v = $this->meter?->volts();
            $c = $this->meter?->celsius();
            $a = $this->driving ? $this->supply?->amps() : 0.0;
            $groups = $this->board === null ? null : $this->everyGroup($this->board);
            $this->fault = null;
        } catch (InstrumentFault $e) {
            $this->fault = $e->getMessage();
            $this->askAgain = ($this->wall)() + 2.0;
            if (! $this->run->isPaused()) {
                $this->pause('an instrument is silent: '.$e->getMessage());
            }

            return;
        }
        $t = $this->t(($this->wall)());
        $s = Sample::of($t, $v, $a, $c, $groups);
        $this->last = $s;
        if ($this->run->isPaused()) {
            return;
        }
        $this->folder->note(['is' => 'sample', 't' => round($t, 2), 'v' => $s->v, 'a' => $s->a, 'c' => $s->c, 'x' => $this->run->view()['expected_v']] + ($groups === null ? [] : ['g' => $groups]));
        $this->run->take($s);
        $this->obey();
    }

    /**
     * What the board says of every group; null unless it says all of them.
     *
     * @return list<float>|null
     */
    private function everyGroup(Line $board): ?array
    {
        $series = (int) ($this->folder->plan()['pack']['series'] ?? 0);
        $text = $board->ask('report');
        for ($n = 0; $n < 400 && ($next = $board->read()) !== 'end'; $n++) {
            $text .= "\n".$next;
        }
        $volts = BoardReport::parse($text, $series)->volts;

        return count($volts) === $series ? array_values($volts) : null;
    }

    /** The supply does what the rules order; only a change is sent, and the timer is renewed each time. */
    private function obey(): void
    {
        $order = $this->run->order();
        if ($this->supply === null) {
            return;
        }
        try {
            if (! $order->on) {
                $this->off();
            } elseif (! $this->driving) {
                $this->supply->drive($this->timer, $order->volts, $order->amps);
                $this->driving = true;
                $this->folder->note(['is' => 'output', 't' => $this->t(($this->wall)()), 'on' => true, 'volts' => $order->volts, 'amps' => $order->amps]);
            } else {
                $this->supply->renew($this->timer);
                if (! $this->supply->isOn()) {
                    $this->driving = false;
                    $this->pause('the supply switched itself off');
                }
            }
        } catch (InstrumentFault $e) {
            $this->fault = $e->getMessage();
            $this->pause('the supply is silent: '.$e->getMessage());
        }
    }

    private function off(): void
    {
        if ($this->supply === null || ! $this->driving) {
            return;
        }
        try {
            $this->supply->off();
            $this->driving = $this->supply->isOn();
            if (! $this->driving) {
                $this->folder->note(['is' => 'output', 't' => $this->t(($this->wall)()), 'on' => false]);
            }
        } catch (InstrumentFault $e) {
            // Its own timer ends it; the next turn tries again.
            $this->fault = $e->getMessage();
        }
    }

    private function pause(string $why): void
    {
        $t = $this->t(($this->wall)());
        if (! $this->run->isPaused() && ! $this->run->isOver()) {
            $this->folder->note(['is' => 'pause', 't' => $t, 'why' => $why]);
            $this->run->pause($t, $why);
        }
        $this->off();
    }

    private function listen(float $t, float $wall): void
    {
        foreach ($this->folder->said($this->heard) as $said) {
            $this->heard++;
            $entry = ['is' => $said['do'] ?? '', 't' => $t, 'wall' => $wall - $this->startedWall, 'who' => $said['who'] ?? '', 'heard' => $this->heard];
            switch ($said['do'] ?? '') {
                case 'confirm':
                    $this->attendance->confirm($wall - $this->startedWall);
                    $this->folder->note($entry);
                    break;
                case 'resume':
                    if ($this->attendance->refuses($wall - $this->startedWall) !== null) {
                        $this->attendance->confirm($wall - $this->startedWall);
                    }
                    $this->folder->note($entry);
                    // Whatever the supply was told before, it is told all of it again.
                    $this->driving = false;
                    $this->run->resume($t);
                    break;
                case 'clipped':
                    $this->folder->note($entry);
                    $this->run->clipped($t);
                    break;
                case 'abort':
                    $why = (string) ($said['why'] ?? 'ended by hand');
                    $this->folder->note($entry + ['why' => $why]);
                    $this->run->abort($t, $why);
                    break;
                case 'typed':
                    $s = Sample::of($t, self::float($said['v'] ?? null), self::float($said['a'] ?? null), self::float($said['c'] ?? null));
                    $this->folder->note(['is' => 'sample', 't' => round($t, 2), 'v' => $s->v, 'a' => $s->a, 'c' => $s->c, 'typed' => true, 'heard' => $this->heard]);
                    $this->run->take($s);
                    break;
                default:
                    $this->folder->note($entry);
            }
        }
        if ($this->meter === null && ! $this->run->isPaused() && ! $this->run->isOver()) {
            $this->run->tick($t);
            $this->noteStop($t);
        }
    }

    /** A stop that came from the clock alone must be in the journal, or the rebuilt run would not have it. */
    private function noteStop(float $t): void
    {
        if ($this->run->isOver() || $this->run->isPaused()) {
            $this->folder->note(['is' => 'tick', 't' => $t]);
        }
    }

    private function show(float $wall): void
    {
        $view = $this->run->view();
        $phase = $view['phase'].($view['paused'] ?? '');
        if ($wall - $this->wrote < 0.2 && $phase === $this->lastPhase) {
            return;
        }
        $this->wrote = $wall;
        $this->lastPhase = $phase;
        $since = $wall - $this->startedWall;
        $this->folder->show($view + [
            'live' => ['v' => $this->last?->v, 'a' => $this->last?->a, 'c' => $this->last?->c], 'output' => $this->driving, 'fault' => $this->fault, 'confirm_in_s' => round($this->attendance->dueIn($since)), 'scale' => $this->scale,
            'hands' => $this->supply === null, 'wall' => $wall,
        ]);
    }

    private function t(float $wall): float
    {
        return ($wall - $this->startedWall) * $this->scale;
    }

    private static function float(mixed $x): ?float
    {
        return is_numeric($x) ? (float) $x : null;
    }
}
