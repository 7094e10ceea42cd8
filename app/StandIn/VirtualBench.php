<?php

declare(strict_types=1);

namespace App\StandIn;

use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Twin\LiveGroup;
use Heartwood\Core\Twin\LivePack;

/**
 * One pack on a simulated bench: where the hand holds the meter's probes, where the supply is clipped, what the load
 * draws, how quickly time passes, and every mishap on request. Clock and chance come from outside.
 */
final class VirtualBench
{
    public LivePack $pack;

    public Chemistry $chemistry = Chemistry::Nmc;

    public float $scale = 1.0;

    /** @var array{from: int, to: int}|null where the probes touch; null in the air */
    public ?array $touch = null;

    /** Group that the supply, the meter's clips and the temperature probe sit on; 0 for none, -1 for the whole pack. */
    public int $clip = 0;

    public bool $follow = false;

    public bool $voltLeadOff = false;

    public bool $tempLeadOff = false;

    /** The clips are the wrong way round. */
    public bool $reversed = false;

    /** The supply takes no set-points and keeps 12 V, 3 A. */
    public bool $deaf = false;

    public float $noiseV = 0.0002;

    /** @var array<int, true> taps at which the hand slips next time */
    public array $slips = [];

    public float $handSpeedS = 0.5;

    /** What the supply is set to: the device writes it. */
    public float $supplyV = 0.0;

    public float $supplyA = 0.0;

    public bool $supplyOn = false;

    public float $loadA = 0.0;

    /** @var list<string> taken out of service on request */
    public array $dead = [];

    /**
     * @var list<array{at: float, on: bool, why: string, volts: float, amps: float, clip: int}> every change of the supply's output,
     * wall seconds
     */
    public array $outputs = [];

    private float $touchedAt = 0.0;

    /** @var array{at: float, from: int, to: int}|null where the hand goes next */
    private ?array $going = null;

    /** @var array{from: int, to: int}|null where it was told to go last */
    private ?array $prompted = null;

    private float $floating = 0.0;

    private float $last;

    /** @var \Closure(): float wall seconds */
    private \Closure $clock;

    /** @param  \Closure(): float  $clock */
    public function __construct(\Closure $clock)
    {
        $this->clock = $clock;
        $this->last = $clock();
        $this->load(array_map(fn(int $i): array => ['soc' => 0.62 + 0.004 * sin(2 * $i)], range(1, 10)));
    }

    public function now(): float
    {
        return ($this->clock)();
    }

    /**
     * @param  list<array{soc?: float, v?: float, capacity_ah?: float, short_ohm?: float, leak_a?: float, ohm?: float}>  $groups
     */
    public function load(array $groups, string $chemistry = 'nmc', float $capacityAh = 8.0, float $scale = 1.0): void
    {
        $this->chemistry = Chemistry::tryFrom($chemistry) ?? Chemistry::Nmc;
        $curve = RestCurve::of($this->chemistry);
        $this->pack = new LivePack(
            $curve,
            array_map(function (array $g) use ($curve, $capacityAh): LiveGroup {
                $c = $g['capacity_ah'] ?? $capacityAh;
                $ohm = $g['ohm'] ?? 0.1 / $c;
                $v = $g['v'] ?? null;
                $soc = $g['soc'] ?? ($v === null ? 0.6 : ($v < $curve->emptyV() ? ($v - $curve->emptyV()) / 35.0 : $curve->socAt($v)));

                return new LiveGroup($soc, $c, $ohm, 0.4 * $ohm, 0.3 * $ohm, $g['short_ohm'] ?? INF, $g['leak_a'] ?? 0.0);
            }, $groups),
            20.0,
            35.0,
        );
        $this->scale = max(0.1, min(60.0, $scale));
        $this->touch = $this->going = $this->prompted = null;
        $this->clip = 0;
        $this->supplyOn = $this->voltLeadOff = $this->tempLeadOff = $this->reversed = $this->deaf = false;
        $this->slips = $this->dead = $this->outputs = [];
        $this->loadA = 0.0;
    }

    public function series(): int
    {
        return count($this->pack->groups);
    }

    /** Lets the pack live up to now, and the hand move. */
    public function tick(): void
    {
        $now = $this->now();
        $model = ($now - $this->last) * $this->scale;
        $this->last = $now;
        $clips = $this->supplyOn && $this->clip > 0 ? [$this->clip => ['volts' => $this->supplyV, 'amps' => $this->supplyA]] : [];
        while ($model > 0) {
            $dt = min(10.0, $model);
            $this->pack->step(
                $dt,
                ($this->supplyOn && $this->clip === -1 ? $this->pack->across($this->supplyV, $this->supplyA) : 0.0) - $this->loadA,
                $clips,
            );
            $model -= $dt;
        }
        if ($this->going !== null && $now >= $this->going['at']) {
            $to = $this->going['to'];
            if (isset($this->slips[$to])) {
                unset($this->slips[$to]);
                $to = max(0, $to - 1); // the probe lands on the tap before
            }
            $this->touch($this->going['from'], $to);
        }
    }

    public function touch(int $from, int $to): void
    {
        $this->touch = ['from' => $from, 'to' => $to];
        $this->touchedAt = $this->now();
        $this->going = null;
    }

    public function lift(): void
    {
        $this->touch = null;
    }

    /** The prompt says where to go; a following hand lifts and goes there. */
    public function prompt(int $from, int $to): void
    {
        $this->prompted = ['from' => $from, 'to' => $to];
        if ($this->follow) {
            $this->touch = null;
            $this->going = ['at' => $this->now() + $this->handSpeedS] + $this->prompted;
        }
    }

    /** Follows from now on: also what was prompted a moment before it was told to. */
    public function follow(bool $on): void
    {
        $began = $on && !$this->follow;
        $this->follow = $on;
        if ($began && $this->prompted !== null) {
            $this->prompt($this->prompted['from'], $this->prompted['to']);
        }
    }

    public function output(bool $on, string $why): void
    {
        if ($on !== $this->supplyOn) {
            $this->outputs[] = [
                'at' => $this->now(),
                'on' => $on,
                'why' => $why,
                'volts' => $this->supplyV,
                'amps' => $this->supplyA,
                'clip' => $this->clip,
            ];
            $this->outputs = array_slice($this->outputs, -200);
        }
        $this->supplyOn = $on;
    }

    /** @return float volts at the meter's input; wandering when nothing is touched */
    public function meterV(): float
    {
        if ($this->voltLeadOff) {
            return $this->wander();
        }
        if ($this->touch === null) {
            return $this->clip !== 0 ? ($this->reversed ? -1 : 1) * $this->clipped() + $this->gauss() * $this->noiseV : $this->wander();
        }
        $v = $this->pack->tap($this->touch['to']) - $this->pack->tap($this->touch['from']);
        // A probe that has just landed: the meter's filter settles in a few tenths of a second.
        $since = $this->now() - $this->touchedAt;
        $settle = $since < 1.0 ? exp(-$since / 0.06) : 0.0;

        return $v * (1 - $settle) + $this->gauss() * ($this->noiseV + 0.02 * $settle);
    }

    public function temperature(): ?float
    {
        return $this->tempLeadOff
            ? null
            : ($this->clip > 0 ? $this->pack->groups[$this->clip - 1]->c : $this->pack->ambientC) + 0.05 * $this->gauss();
    }

    public function supplyAmps(): float
    {
        return $this->supplyOn && $this->clip !== 0 ? $this->pack->amps(max(1, $this->clip)) + $this->loadA : 0.0;
    }

    public function supplyVolts(): float
    {
        return $this->clip !== 0 ? $this->clipped() : ($this->supplyOn ? $this->supplyV : 0.0);
    }

    private function clipped(): float
    {
        return $this->clip > 0 ? $this->pack->volts($this->clip) : $this->pack->tap($this->series());
    }

    /** @return array<string, mixed> */
    public function state(): array
    {
        return [
            'simulated' => true,
            'instance' => getenv('HEARTWOOD_INSTANCE') ?: '',
            'series' => $this->series(),
            'chemistry' => $this->chemistry->value,
            'scale' => $this->scale,
            'touch' => $this->touch,
            'clip' => $this->clip,
            'follow' => $this->follow,
            'volt_lead_off' => $this->voltLeadOff,
            'temp_lead_off' => $this->tempLeadOff,
            'reversed' => $this->reversed,
            'deaf' => $this->deaf,
            'slips' => array_keys($this->slips),
            'dead' => $this->dead,
            'output_on' => $this->supplyOn,
            'load_a' => $this->loadA,
            'groups' => array_map(fn(int $k): float => round($this->pack->volts($k), 4), range(1, $this->series())),
            'model_s' => round($this->pack->seconds, 1),
            'temperatures' => array_map(fn(LiveGroup $g): float => round($g->c, 2), $this->pack->groups),
            'charge' => array_map(fn(LiveGroup $g): float => round($g->charge, 4), $this->pack->groups),
            'outputs' => $this->outputs,
            'now' => $this->now(),
        ];
    }

    private function wander(): float
    {
        $this->floating = 0.8 * $this->floating + 0.03 * $this->gauss();

        return $this->floating;
    }

    private function gauss(): float
    {
        return sqrt(-2 * log(max(1e-12, mt_rand() / mt_getrandmax()))) * cos((2 * M_PI * mt_rand()) / mt_getrandmax());
    }
}
