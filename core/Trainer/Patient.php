<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Twin\LiveGroup;
use Heartwood\Core\Twin\LivePack;

/**
 * The pack of a round as it truly is, and what flows in it: cells run live (charge is conserved, cells relax, leak and age no
 * further), joints, path, board, and what stands around it. Whoever sits at the bench sees none of this but through acts.
 */
final class Patient
{
    /** Ohms of the path of a sound pack, by element. */
    public const SOUND_OHM = ['fuse' => 0.004, 'switch' => 0.006, 'connector' => 0.003];

    /** Shares of a cell's resistance that answer at once, within a minute; the rest within a quarter of an hour. */
    public const AT_ONCE = 0.7;

    public const QUICK = 0.2;

    /** A sound sensor, and a harness, ohms; the stages of a charger for lithium. */
    public const SENSOR_OHM = 10_000.0;

    public const HARNESS_OHM = 0.02;

    public const STAGES = ['cc', 'cv'];

    /** Charge that a sound cell loses in a day, as a share of its capacity. */
    public const SOUND_LEAK = 0.0002;

    private const DAY_S = 86_400;

    private const DAY_H = 24;

    /** A charge has tapered off at a twentieth of the capacity (handbook "Balancing"). */
    private const TAPER = 0.05;

    /** A pack held at full: its charger's current, and where a board bleeds: over the lowest group, and near full, volts (assumed). */
    private const HELD_RATE = 0.2;

    private const HELD_STEP_S = 20.0;

    private const BLEEDS_OVER_V = 0.003;

    private const BLEEDS_UNDER_FULL_V = 0.1;

    /** Seconds that are none. */
    private const NO_S = 1e-6;

    /** Ohms of a path that is open. */
    public const OPEN_OHM = 9.0e6;

    /** A board waits so long before it cuts. */
    private const CUT_S = 2.0;

    /** Halvings by which the charge for a voltage is found. */
    private const HALVINGS = 50;

    /** Seconds that one step of a stretch with current takes at the most. */
    private const STEP_S = 5.0;

    public LivePack $cells;

    /** A group with a supply's clips on it, run by itself: the others rest meanwhile, and are told so once they are off. */
    private ?LivePack $clipped = null;

    private int $clippedAt = 0;

    private float $clippedS = 0.0;

    /** Seconds since it came. */
    public float $clockS = 0.0;

    /** Seconds for which current flowed through it, all of them together. */
    public float $flowedS = 0.0;

    /** Seconds since current flowed last; it came rested over night. */
    public float $restedS = 43_200.0;

    public bool $plugged = true;

    /** @var array<int, float> volts of groups that hold none of their own any more, by number */
    public array $fixedV = [];

    /** @var array<int, float> what a group stands off its curve, volts, by number */
    public array $offsetV = [];

    /** @var array<int, float> ohms of the joint above each tap, links with it */
    public array $jointOhm = [];

    /** @var array<int, float> share of its charge that the board takes from a group in a day, while its plug is in */
    public array $drainPerDay = [];

    /** @var non-empty-array<string, float> ohms of what lies between groups and terminals, by element */
    public array $elementOhm = self::SOUND_OHM;

    /** @var list<string> what opens and closes when it is moved */
    public array $loose = [];

    /** The board's own switches: discharge and charge. */
    public bool $gives = true;

    public bool $takes = true;

    /** And whether they work at all. */
    public bool $boardGives = true;

    public bool $boardTakes = true;

    /** @var list<string> acts that switch its output on again; none: it is not asleep */
    public array $wokenBy = [];

    /** Share of the pack's voltage that a meter of high input shows at an output that is off. */
    public float $floats = 0.02;

    /** Amps at which it switches off, whatever it is rated for. */
    public float $tripsA = INF;

    /** A group that has lost a cell's weld; 0 for none. */
    public int $weldGroup = 0;

    public float $sensorOhm = self::SENSOR_OHM;

    public bool $charger = true;

    public float $chargerShare = 1.0;

    /** @var list<string> */
    public array $chargerStages = self::STAGES;

    public bool $device = true;

    public float $harnessOhm = self::HARNESS_OHM;

    /** What its gauge believes against what it holds. */
    public float $gauge = 1.0;

    /** @var array{int, int}|null pins of the sense plug that are in one another's place */
    public ?array $swapped = null;

    /** @var list<array{code: string, where: array<string, int>|null}> what is wrong with it */
    public array $truth = [];

    /** @var list<string> */
    public array $symptoms = [];

    /** @var array<string, mixed> what eyes, hand and nose find */
    public array $inspection = [];

    /** @var list<string> sentences of whoever brought it */
    public array $says = [];

    /**
     * @param  array<string, mixed>  $pack  as the record has it
     * @param  list<LiveGroup>  $groups  from B-
     */
    public function __construct(public array $pack, public readonly PackSpec $spec, array $groups)
    {
        $this->cells = new LivePack(RestCurve::of($spec->chemistry), $groups);
        for ($t = 0; $t <= $spec->series; $t++) {
            $this->jointOhm[$t] = 0.0;
        }
    }

    public function group(int $k): LiveGroup
    {
        return $this->cells->groups[$k - 1];
    }

    /** A group is given the charge at which it stands at these volts at rest. */
    public function stands(int $k, float $volts): void
    {
        $g = $this->group($k);
        [$low, $high] = [-1.0, 1.0];
        for ($n = 0; $n < self::HALVINGS; $n++) {
            $g->charge = ($low + $high) / 2;
            $this->cells->volts($k) < $volts ? ($low = $g->charge) : ($high = $g->charge);
        }
    }

    /** New cells in a group, as their sheet has them, with the charge of what they replace until somebody says otherwise. */
    public function renew(int $k): void
    {
        unset($this->fixedV[$k]);
        $g = $this->group($k);
        $ohm = $this->spec->groupResistanceMohm() / 1000;
        $g->capacityAh = (float) $this->spec->groupCapacityAh();
        [$g->ohm, $g->quickOhm, $g->slowOhm] = [self::AT_ONCE * $ohm, self::QUICK * $ohm, (1 - self::AT_ONCE - self::QUICK) * $ohm];
        $g->leakA = (self::SOUND_LEAK * $g->capacityAh) / self::DAY_H;
        $g->quickV = $g->slowV = $this->offsetV[$k] = 0.0;
        $this->weldGroup = $this->weldGroup === $k ? 0 : $this->weldGroup;
    }

    /** A cell whose weld had let go carries again; where none had, nothing is changed by it. */
    public function reweld(int $k): void
    {
        if ($this->weldGroup !== $k) {
            return;
        }
        $g = $this->group($k);
        $left = 1 - 1 / (int) $this->spec->parallel;
        $g->capacityAh /= $left;
        [$g->ohm, $g->quickOhm, $g->slowOhm] = [$left * $g->ohm, $left * $g->quickOhm, $left * $g->slowOhm];
        $this->weldGroup = 0;
    }

    /** A board that works, in the place of the old one; what its sensor says it believes. */
    public function newBoard(): void
    {
        $this->boardGives = true;
        $this->boardTakes = $this->takes = $this->sensorOhm === self::SENSOR_OHM;
        $this->tripsA = INF;
        $this->drainPerDay = $this->wokenBy = [];
    }

    /** A sensor that says what is so: the board takes charge again that it kept out because of it. */
    public function newSensor(): void
    {
        $this->boardTakes = $this->takes = $this->boardTakes || $this->sensorOhm !== self::SENSOR_OHM;
        $this->sensorOhm = self::SENSOR_OHM;
    }

    /** Amp-hours that a group holds; nothing where it is dead. */
    public function capacityAh(int $k): float
    {
        return isset($this->fixedV[$k]) ? 0.0 : $this->group($k)->capacityAh;
    }

    /** @return float Ah from where its fullest group is full to where its emptiest is empty */
    public function givesAh(): float
    {
        $all = range(1, $this->spec->series);
        $holds = fn(int $k): float => max(0.0, $this->group($k)->charge) * $this->capacityAh($k);
        $room = min(array_map(fn(int $k): float => max(0.0, $this->capacityAh($k) - $holds($k)), $all));

        return min(array_map(fn(int $k): float => $holds($k) + min($room, $this->capacityAh($k)), $all));
    }

    /** @return float volts across group k, its joint with it, as they are now */
    public function across(int $k): float
    {
        [$cells, $n] = $this->clipped !== null && $this->clippedAt === $k ? [$this->clipped, 1] : [$this->cells, $k];
        $own = $this->fixedV[$k] ?? $cells->volts($n) + ($this->offsetV[$k] ?? 0.0);

        return $own + $cells->amps($n) * $this->jointOhm[$k - 1];
    }

    /** @return float volts from B- to a tap */
    public function tapV(int $t): float
    {
        $v = 0.0;
        for ($k = 1; $k <= $t; $k++) {
            $v += $this->across($k);
        }

        return $v;
    }

    /** Whether current can leave by the terminals. */
    public function isAlive(): bool
    {
        return $this->gives && $this->conducts();
    }

    public function conducts(): bool
    {
        return max($this->elementOhm) < 1.0;
    }

    /** @return float volts at the output as a meter sees them */
    public function outputV(): float
    {
        $all = $this->tapV($this->spec->series);
        if (!$this->isAlive()) {
            return $this->floats * $all;
        }

        return $all + $this->cells->amps(1) * array_sum($this->elementOhm);
    }

    /** Nobody touches it for so long. */
    public function rests(float $seconds): void
    {
        $this->drains($seconds);
        // The first of it ends what still flowed.
        $this->cells->step(min(1.0, $seconds));
        $seconds > 1.0 && $this->cells->step($seconds - 1.0);
        $this->clockS += $seconds;
        $this->restedS += $seconds;
        $this->letsGo();
    }

    /**
     * Current through the pack for so long, negative out of it; the board ends it where it has to, a supply at its voltage holds it
     * back.
     *
     * @param  float  $supplyV  of a supply, which gives no more than that
     * @param  bool  $toItsEnd  until the supply's current has fallen to a twentieth of the capacity, or the board cuts
     * @return array{a: float, ah: float, seconds: float, stopped_by: 'bms'|null, taper: bool}
     */
    public function flows(float $amps, float $seconds, float $supplyV = INF, bool $toItsEnd = false): array
    {
        $open = $amps < 0 ? !$this->isAlive() || -$amps > $this->tripsA : !$this->takes || !$this->conducts();
        if ($open) {
            $this->gives = $amps < 0 && -$amps > $this->tripsA ? false : $this->gives;
            $this->rests(self::CUT_S);

            return ['a' => 0.0, 'ah' => 0.0, 'seconds' => self::CUT_S, 'stopped_by' => 'bms', 'taper' => false];
        }
        $taperA = self::TAPER * (float) $this->spec->groupCapacityAh();
        [$ah, $over, $gone, $a] = [0.0, 0.0, 0.0, $amps];
        while ($gone < $seconds - self::NO_S) {
            $dt = min(self::STEP_S, $seconds - $gone);
            $a = $amps > 0 ? min($amps, $this->cells->across($supplyV - array_sum($this->offsetV), $amps)) : $amps;
            $this->cells->step($dt, $a);
            $ah += ($a * $dt) / 3600;
            $gone += $dt;
            $volts = array_map(fn(int $k): float => $this->across($k), range(1, $this->spec->series));
            $past = $a < 0 ? min($volts) < $this->spec->lowCutV() : max($volts) > $this->spec->highCutV();
            $over = $past ? $over + $dt : 0.0;
            if ($over > self::CUT_S) {
                $a < 0 ? ($this->gives = false) : ($this->takes = false);
                break;
            }
            if ($toItsEnd && $amps > 0 && $a <= $taperA) {
                break;
            }
        }
        $this->clockS += $gone;
        $this->flowedS += $gone;
        $this->restedS = 0.0;

        return [
            'a' => $a,
            'ah' => $ah,
            'seconds' => $gone,
            'stopped_by' => $over > self::CUT_S ? 'bms' : null,
            'taper' => $toItsEnd && $over <= self::CUT_S && $gone < $seconds - self::NO_S,
        ];
    }

    /** A supply's clips go on a group; null: on the whole string. */
    public function clipsOn(?int $k): void
    {
        [$this->clippedAt, $this->clippedS] = [$k ?? 0, 0.0];
        $this->clipped = $k === null ? null : new LivePack(RestCurve::of($this->spec->chemistry), [$this->group($k)]);
    }

    /** And off again: what lay beside it has rested for as long. */
    public function clipsOff(): void
    {
        $beside = $this->cells->groups;
        unset($beside[$this->clippedAt - 1]);
        if ($this->clipped !== null && $beside !== []) {
            (new LivePack(RestCurve::of($this->spec->chemistry), array_values($beside)))->step($this->clippedS);
        }
        $this->clipped = null;
        $this->rests(1.0);
    }

    /** @return array{a: float, c: float} amps into what the clips are on, and the warmest of it */
    public function atClips(): array
    {
        $groups = $this->clipped === null ? $this->cells->groups : $this->clipped->groups;

        return ['a' => ($this->clipped ?? $this->cells)->amps(1), 'c' => max(0.0, ...array_map(fn(LiveGroup $g): float => $g->c, $groups))];
    }

    /**
     * A supply at its limits for one step, on what its clips are on. No amps: its output is off.
     *
     * @param  float  $volts  between its clips
     */
    public function fed(float $seconds, float $volts, float $amps): void
    {
        $this->drains($seconds);
        if ($this->clipped === null) {
            $this->cells->step($seconds, $amps > 0.0 ? $this->cells->across($volts - array_sum($this->offsetV), $amps) : 0.0);
        } else {
            $k = $this->clippedAt;
            $drives = $amps > 0.0 && !isset($this->fixedV[$k]);
            $this->clipped->step($seconds, 0.0, $drives ? [1 => ['volts' => $volts - ($this->offsetV[$k] ?? 0.0), 'amps' => $amps]] : []);
            $this->clippedS += $seconds;
        }
        $this->clockS += $seconds;
        $this->flowedS += $amps > 0.0 ? $seconds : 0.0;
        $this->restedS = $amps > 0.0 ? 0.0 : $this->restedS + $seconds;
        $this->letsGo();
    }

    private function drains(float $seconds): void
    {
        foreach ($this->plugged ? $this->drainPerDay : [] as $k => $share) {
            $this->group($k)->charge -= ($share * $seconds) / self::DAY_S;
        }
    }

    /**
     * Left on its charger, held at full: the board bleeds what stands over the lowest group, as slowly as it does, and takes no charge
     * while one stands over its cut.
     *
     * @return 'bms'|null what kept the charger out at the end of it
     */
    public function held(float $seconds): ?string
    {
        $full = $this->spec->workingFullV();
        $bleedA = $this->plugged ? (float) $this->spec->bms->float('balance_current_a') : 0.0;
        $supplyV = $full * $this->spec->series - array_sum($this->offsetV);
        $most = self::HELD_RATE * (float) $this->spec->groupCapacityAh();
        $over = 0.0;
        for ($gone = 0.0; $gone < $seconds - self::NO_S; $gone += $dt) {
            $dt = min(self::HELD_STEP_S, $seconds - $gone);
            $this->cells->step($dt, $this->takes && $this->conducts() ? $this->cells->across($supplyV, $most) : 0.0);
            $volts = array_combine(range(1, $this->spec->series), array_map($this->across(...), range(1, $this->spec->series)));
            foreach ($volts as $k => $v) {
                if ($v > min($volts) + self::BLEEDS_OVER_V && $v > $full - self::BLEEDS_UNDER_FULL_V) {
                    $this->group($k)->charge -= ($bleedA * $dt) / 3600 / $this->group($k)->capacityAh;
                }
            }
            $over = max($volts) > $this->spec->highCutV() ? $over + $dt : 0.0;
            $this->takes = $this->takes && $over <= self::CUT_S;
            $this->letsGo();
        }
        $this->clockS += $seconds;
        $this->flowedS += $seconds;
        $this->restedS = 0.0;

        return $this->takes && $this->conducts() ? null : 'bms';
    }

    /** A board that has cut lets go again once every group is past its release voltage and none is too full. */
    public function letsGo(): void
    {
        if (($this->gives === $this->boardGives || $this->wokenBy !== []) && $this->takes === $this->boardTakes) {
            return;
        }
        $volts = array_map(fn(int $k): float => $this->across($k), range(1, $this->spec->series));
        if ($this->wokenBy === [] && min($volts) >= $this->spec->lowReleaseV()) {
            $this->gives = $this->boardGives;
        }
        if (max($volts) <= $this->spec->highReleaseV()) {
            $this->takes = $this->boardTakes;
        }
    }
}
