<?php

declare(strict_types=1);

namespace App\Instruments;

use Heartwood\Core\Reading\BoardReport;
use Heartwood\Core\Run\Curve;
use Heartwood\Core\Run\Order;
use Heartwood\Core\Run\RunPlan;
use Heartwood\Core\Run\Said;
use Heartwood\Core\Run\Sample;
use Heartwood\Core\Run\Sequence;
use Heartwood\Core\Run\Supervised;
use Heartwood\Core\Run\SupervisedRun;

/**
 * Drives one run, in a process of its own: looks at every instrument, gives the sample to the rules, does what they say,
 * keeps the journal. The output goes off when the rules say so, when a screen no longer watches, when an instrument is
 * silent; and by the supply's own timer when this process is gone. An instrument that drips or lies holds this run alone.
 */
final class Runner
{
    /** A screen asks two or three times a second; this long without it means that nobody sees what happens. */
    private const UNSEEN_S = 3.0;

    /** An instrument that was silent is not asked again at once: the supply's timer must be renewed meanwhile. */
    private const AGAIN_S = 1.0;

    /** An output that has not been seen off for this long after the order is an alarm. */
    private const OFF_S = 5.0;

    private Supervised $run;

    private ?Meter $meter = null;

    private ?Meter $thermometer = null;

    private ?Meter $ammeter = null;

    private ?Supply $supply = null;

    private ?Line $board = null;

    private string $timer = '';

    private float $scale;

    private float $startedWall;

    /** What the supply was last seen to do; null where that is not known. */
    private ?bool $output = null;

    /** @var array{float, float}|null set-points as last sent */
    private ?array $sent = null;

    private ?float $offOrdered = null;

    private int $heard = 0;

    private float $wrote = -1e9;

    private string $lastPhase = '';

    /** @var array<string, string> what each instrument has to be said of */
    private array $faults = [];

    /** @var array<string, float> wall time before which each is not asked again */
    private array $askAgain = [];

    private ?Sample $last = null;

    /** Samples after which the course is written anew, for screens that open it. */
    private const DRAWN = 25;

    private readonly Curve $curve;

    private int $undrawn = 0;

    /** @param  \Closure(): float  $wall  seconds since the epoch */
    public function __construct(private readonly RunFolder $folder, private readonly \Closure $wall)
    {
        $this->curve = new Curve();
        $plan = $folder->plan();
        $this->scale = max(1.0, min(60.0, (float) ($plan['time_scale'] ?? 1.0)));
        $this->startedWall = (float) ($plan['started'] ?? $wall());
        $this->run = self::machine($plan);
        $this->meter = self::instrument(Meter::class, $plan['meter'] ?? null);
        $this->thermometer = self::instrument(Meter::class, $plan['thermometer'] ?? null) ?? $this->meter;
        $this->ammeter = self::instrument(Meter::class, $plan['ammeter'] ?? null);
        if (is_array($plan['supply'] ?? null) && ($plan['supply']['timer'] ?? '') !== '') {
            $this->supply = self::instrument(Supply::class, $plan['supply']);
            $this->timer = (string) $plan['supply']['timer'];
        }
        if (is_array($plan['board'] ?? null)) {
            $this->board = Lines::to((string) $plan['board']['host'], (int) $plan['board']['port'], 0.8);
        }
        $this->rebuild();
    }

    /** @param  array<string, mixed>  $plan */
    public static function machine(array $plan): Supervised
    {
        $plans = array_map(fn(mixed $p): RunPlan => RunPlan::fromArray((array) $p), array_values((array) ($plan['plans'] ?? [])));

        return $plans === []
            ? new SupervisedRun(RunPlan::fromArray((array) ($plan['plan'] ?? [])))
            : new Sequence($plans, array_map(floatval(...), array_values((array) ($plan['hours'] ?? []))));
    }

    /** @param  array<string, mixed>  $e  a line of the journal, which moves the machine again */
    public static function move(Supervised $run, array $e): void
    {
        $t = (float) ($e['t'] ?? 0.0);
        match ($e['is'] ?? '') {
            'sample' => $run->take(self::sampleOf($e)),
            'tick' => $run->tick($t),
            'said' => $run->hear(Said::of($t, (string) ($e['do'] ?? ''), self::float($e['v'] ?? null), (string) ($e['why'] ?? ''))),
            default => null,
        };
    }

    /**
     * A sample of the journal as a drawing shows it: seconds, volts, amps, degrees, and the volts that were expected.
     *
     * @param  array<string, mixed>  $e  a line of the journal
     * @return array{t: float, v: float|null, a: float|null, c: float|null, low: float|null, high: float|null}|null null for what is none
     */
    public static function point(array $e): ?array
    {
        if (($e['is'] ?? '') !== 'sample') {
            return null;
        }
        $x = is_array($e['x'] ?? null) ? array_values($e['x']) : [];

        return [
            't' => (float) ($e['t'] ?? 0.0),
            'v' => self::float($e['v'] ?? null),
            'a' => self::float($e['a'] ?? null),
            'c' => self::float($e['c'] ?? null),
            'low' => self::float($x[0] ?? null),
            'high' => self::float($x[1] ?? null),
        ];
    }

    /** @return list<string> what the instruments of a plan must be locked by, so that no other run can have them */
    public static function keys(RunFolder $folder): array
    {
        return array_values(array_filter((array) ($folder->plan()['keys'] ?? []), is_string(...)));
    }

    public function isOver(): bool
    {
        return $this->run->isOver();
    }

    /** Whether nothing of this run needs an instrument any more: the watch after the end is over too. */
    public function isFinished(): bool
    {
        return $this->run->isWatchedOut() && $this->output !== true;
    }

    /** One turn, about four a second. */
    public function turn(): void
    {
        $wall = ($this->wall)();
        $t = $this->t($wall);
        $this->listen($t);
        if (!$this->run->isOver() && $this->run->order()->on && $this->folder->unseenFor() > self::UNSEEN_S && $this->supply !== null) {
            $this->say($t, 'pause', 'no screen is watching');
        }
        if ($this->meter !== null || $this->supply !== null || $this->board !== null) {
            $this->look();
        } else {
            $before = $this->run->isOver();
            $this->run->tick($t);
            if ($this->run->isOver() !== $before || $this->run->isWatchedOut()) {
                // A stop that came from the clock alone must be in the journal, or the rebuilt run would not have it.
                $this->folder->note(['is' => 'tick', 't' => $t]);
            }
        }
        $this->obey();
        $this->show($wall);
    }

    public function finish(): void
    {
        $this->obey();
        $this->show(($this->wall)(), true);
        $this->folder->note(['is' => 'closed', 't' => $this->t(($this->wall)())]);
        $this->folder->close();
    }

    /** This process ends while the run goes on: the output goes off, and whoever takes the run up proves it anew. */
    public function letGo(): void
    {
        if (!$this->run->isOver() && !$this->run->isPaused()) {
            $this->say($this->t(($this->wall)()), 'pause', 'the runner was away');
        }
        $this->obey();
    }

    /** Ends it before anything was asked of any instrument. */
    public function refuse(string $why): void
    {
        $this->say($this->t(($this->wall)()), 'end', $why);
        $this->finish();
    }

    /** @return string|null what is at an address instead of what was proved there; null when all are who they were */
    public function strangers(): ?string
    {
        foreach (['meter', 'thermometer', 'ammeter', 'supply'] as $role) {
            $i = $this->folder->plan()[$role] ?? null;
            $was = is_array($i) ? (string) ($i['idn'] ?? '') : '';
            if ($was === '') {
                continue;
            }
            try {
                $is = Identity::idn((new Scpi((string) $i['host'], (int) $i['port'], (float) ($i['timeout_s'] ?? 0.8)))->identity());
            } catch (InstrumentFault) {
                continue; // a silent one proves nothing, and nothing is switched on by it
            }
            if ($is !== $was) {
                return "at the address of the $role sits another instrument than the one that was proved: identify it again";
            }
        }

        return null;
    }

    private function rebuild(): void
    {
        $begun = false;
        foreach ($this->folder->journal() as $e) {
            $begun = true;
            self::move($this->run, $e);
            $this->heard = max($this->heard, (int) ($e['heard'] ?? 0));
            $point = self::point($e);
            if ($point !== null) {
                $this->curve->take($point);
            }
        }
        $this->draw();
        if ($begun && !$this->run->isOver() && !$this->run->isPaused()) {
            $this->say($this->t(($this->wall)()), 'pause', 'the runner was away');
        }
    }

    private function look(): void
    {
        $shown = $this->asked('supply', fn(): array => $this->supply?->setPoints() ?? [null, null]) ?? [null, null];
        $a =
            $this->ammeter !== null
                ? $this->asked('ammeter', fn(): ?float => $this->ammeter->ampsRead())
                : ($this->supply === null
                    ? null
                    : $this->asked('supply', fn(): ?float => $this->supply->amps()));
        $supplyV = $this->asked('supply', fn(): ?float => $this->supply?->volts());
        $v = $this->asked('meter', fn(): ?float => $this->meter?->voltsRead());
        $c = $this->asked($this->thermometer === $this->meter ? 'meter' : 'thermometer', fn(): ?float => $this->thermometer?->celsius());
        $groups = $this->board === null ? null : $this->asked('board', fn(): ?array => $this->everyGroup());
        // A meter alone, with a hand at the supply, watches volts and warmth all the while; amps are what the hand types.
        $entry =
            [
                'is' => 'sample',
                't' => round($this->t(($this->wall)()), 2),
                'v' => $v,
                'a' => $a,
                'c' => $c,
                'sv' => $shown[0],
                'sa' => $shown[1],
                'pv' => $supplyV,
            ] + ($groups === null ? [] : ['g' => $groups]);
        $sample = $this->last = self::sampleOf($entry);
        $band = $this->run->view()['expected'] ?? null;
        $this->sampled($entry + (is_array($band) ? ['x' => [$band['low'], $band['high']]] : []));
        $this->run->take($sample);
    }

    /** @param  array<string, mixed>  $entry */
    private function sampled(array $entry): void
    {
        $this->folder->note($entry);
        $point = self::point($entry);
        if ($point === null) {
            return;
        }
        $this->curve->take($point);
        if (++$this->undrawn >= max(self::DRAWN, $this->curve->every())) {
            $this->draw();
        }
    }

    private function draw(): void
    {
        $this->undrawn = 0;
        $this->folder->draw($this->curve->points(), $this->folder->length());
    }

    /**
     * @template T
     *
     * @param  \Closure(): T  $ask
     * @return T|null null where it was silent or could not be read; why is kept for the screen
     */
    private function asked(string $who, \Closure $ask): mixed
    {
        $now = ($this->wall)();
        if ($now < ($this->askAgain[$who] ?? 0.0)) {
            return null;
        }
        try {
            $answer = $ask();
            unset($this->faults[$who]);

            return $answer;
        } catch (InstrumentFault $e) {
            $this->faults[$who] = "$who: " . $e->getMessage();
            $this->askAgain[$who] = $now + self::AGAIN_S;

            return null;
        }
    }

    /**
     * What the board says of every group, null where it says nothing of one.
     *
     * @return list<float|null>|null
     */
    private function everyGroup(): ?array
    {
        $series = (int) ($this->folder->plan()['series'] ?? 0);
        $text = $this->board === null ? '' : BoardLine::report($this->board);
        $volts = BoardReport::parse($text, $series)->volts;

        return $series === 0 ? null : array_map(fn(int $k): ?float => $volts[$k] ?? null, range(1, $series));
    }

    /** The supply does what the rules order: set-points with the output off, then on; renewed while the rules want it. */
    private function obey(): void
    {
        $supply = $this->supply;
        if ($supply === null) {
            return;
        }
        $order = $this->run->order();
        $wall = ($this->wall)();
        try {
            if (!$order->on) {
                $this->offOrdered ??= $wall;
                if ($this->output !== false) {
                    $supply->off();
                    $this->output = $supply->isOn();
                    if ($this->output === false) {
                        $this->folder->note(['is' => 'output', 't' => $this->t($wall), 'on' => false]);
                    }
                }
                $this->set($order);
            } elseif ($this->output !== true) {
                $this->offOrdered = null;
                $this->set($order);
                $supply->on($this->timer);
                $this->output = true;
                $this->folder->note([
                    'is' => 'output',
                    't' => $this->t($wall),
                    'on' => true,
                    'volts' => $order->volts,
                    'amps' => $order->amps,
                ]);
            } else {
                $this->set($order);
                $supply->renew($this->timer);
                if (!$supply->isOn()) {
                    $this->output = false;
                    $this->say($this->t($wall), 'pause', 'the supply switched itself off');
                }
            }
        } catch (InstrumentFault $e) {
            // Its own timer ends it; the next turn tries again.
            $this->faults['supply'] = 'supply: ' . $e->getMessage();
            $this->output = $order->on ? $this->output : null;
        }
    }

    private function set(Order $order): void
    {
        $want = [$order->volts, abs($order->amps)];
        if ($this->sent !== $want) {
            $this->sent = null;
            $this->supply?->setNoMoreThan(...$want);
            if ($want[0] > 0.0) {
                $this->supply?->protect($want[0]);
            }
            $this->sent = $want;
        }
    }

    private function listen(float $t): void
    {
        foreach ($this->folder->said($this->heard) as $said) {
            $this->heard++;
            $do = (string) ($said['do'] ?? '');
            if ($do === 'typed') {
                $entry = [
                    'is' => 'sample',
                    't' => round($t, 2),
                    'v' => self::float($said['v'] ?? null),
                    'a' => self::float($said['a'] ?? null),
                    'c' => self::float($said['c'] ?? null),
                    'typed' => true,
                    'heard' => $this->heard,
                ];
                $this->sampled($entry);
                $this->last = self::sampleOf($entry);
                $this->run->take($this->last);

                continue;
            }
            $this->say($t, $do, (string) ($said['why'] ?? ''), self::float($said['v'] ?? null), [
                'who' => $said['who'] ?? '',
                'heard' => $this->heard,
            ]);
        }
    }

    /** @param  array<string, mixed>  $more */
    private function say(float $t, string $do, string $why = '', ?float $v = null, array $more = []): void
    {
        $this->folder->note(
            ['is' => 'said', 'do' => $do, 't' => $t] +
                array_filter(['v' => $v, 'why' => $why === '' ? null : $why], fn(mixed $x): bool => $x !== null) +
                $more,
        );
        $this->run->hear(Said::of($t, $do, $v, $why));
    }

    private function show(float $wall, bool $now = false): void
    {
        $view = $this->run->view();
        $phase = $view['phase'] . ($view['paused'] ?? '') . ($view['group'] ?? '');
        if (!$now && $wall - $this->wrote < 0.2 && $phase === $this->lastPhase) {
            return;
        }
        $this->wrote = $wall;
        $this->lastPhase = $phase;
        $late = $this->supply !== null && $this->output !== false && $this->offOrdered !== null && $wall - $this->offOrdered > self::OFF_S;
        $alarm = $late ? 'The supply does not confirm that its output is off: pull the clips now.' : $view['after']['alarm'] ?? null;
        $this->folder->show(
            [
                'live' => ['v' => $this->last?->v, 'a' => $this->last?->a, 'c' => $this->last?->c],
                'output' => $this->supply === null ? null : $this->output,
                'fault' => $this->faults === [] ? null : implode(' ', $this->faults),
                'scale' => $this->scale,
                'hands' => $this->supply === null,
                'wall' => $wall,
                'alarm' => $alarm,
            ] + $view,
        );
    }

    private function t(float $wall): float
    {
        return ($wall - $this->startedWall) * $this->scale;
    }

    /** @param  array<string, mixed>  $e  a line of the journal */
    private static function sampleOf(array $e): Sample
    {
        $f = fn(string $k): ?float => self::float($e[$k] ?? null);

        return Sample::of(
            (float) ($e['t'] ?? 0.0),
            $f('v'),
            $f('a'),
            $f('c'),
            $f('sv'),
            $f('sa'),
            isset($e['g']) ? array_map(self::float(...), array_values((array) $e['g'])) : null,
            $f('pv'),
        );
    }

    /**
     * @template T of Scpi
     *
     * @param  class-string<T>  $class
     * @return T|null
     */
    private static function instrument(string $class, mixed $at): ?Scpi
    {
        return is_array($at)
            ? new $class(
                (string) $at['host'],
                (int) $at['port'],
                (float) ($at['timeout_s'] ?? 0.8),
                isset($at['channel']) ? (int) $at['channel'] : null,
                (string) ($at['style'] ?? ''),
            )
            : null;
    }

    private static function float(mixed $x): ?float
    {
        return is_numeric($x) ? (float) $x : null;
    }
}
