<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;

/**
 * What a run was started for: which pack, which group, what was read there, where to, and who answers for what. Volts at
 * the clips: of one group, or of the whole string (`n` groups). Amps positive into the pack.
 */
final readonly class RunPlan
{
    /** Over this times full it is no single group. */
    private const SINGLE = 1.2;

    /** Where nobody wrote it: ambient, and the steps of the meter (assumed). */
    private const ROOM_C = 20.0;

    /** See above. */
    private const FINE_V = 0.001;

    /** See above. */
    private const FINE_A = 0.01;

    private const KINDS = ['recovery', 'balance', 'bypass', 'charge', 'discharge'];

    /**
     * @param  'recovery'|'balance'|'bypass'|'charge'|'discharge'  $kind
     * @param  array<array-key, mixed>  $packData  the pack as a job record has it
     * @param  int|null  $group  from B-, from 1; null for the whole string
     * @param  float  $planV  rest volts at the clips as last measured
     * @param  float|null  $targetV  rest volts to come to; null: full, or what the kind ends at
     * @param  float|null  $targetAh  amp-hours to put in, where that ends a fill
     * @param  bool  $belowFloorAllowed  a senior answers, in words, for a group under the floor for less than a week
     * @param  list<float|null>  $knownV  rest volts of every group as last measured: what the clips may sit on instead
     * @param  bool  $asksClip  the supply's clip goes on only after the meter has read the polarity, and a person says so
     * @param  bool  $byHand  a person sets the supply and types the readings
     * @param  bool  $hurried  simulated time runs quicker: a moment of the machine is half a minute of the run
     * @param  float|null  $rangeA  full scale of whatever measures the current, where known
     */
    public function __construct(
        public string $kind,
        public PackSpec $pack,
        public array $packData,
        public ?int $group,
        public float $planV,
        public float $planSigmaV = 0.0,
        public float $ambientC = 20.0,
        public ?float $targetV = null,
        public ?float $targetAh = null,
        public ?float $planA = null,
        public ?float $limitA = null,
        public ?float $limitV = null,
        public bool $belowFloorAllowed = false,
        public ?float $closesAtS = null,
        public ?float $confirmEveryMin = null,
        public float $resolutionV = 0.001,
        public float $resolutionA = 0.01,
        public array $knownV = [],
        public bool $asksClip = false,
        public bool $byHand = false,
        public ?float $rangeA = null,
        public bool $hurried = false,
    ) {}

    /** Amp-hours of one group. */
    public function capacityAh(): float
    {
        return $this->pack->groupCapacityAh() ??
            throw new CannotRun(
                '/pack/cell/capacity_ah',
                'the capacity of a group is not known: give the cells and how many are parallel, or the label',
            );
    }

    /** Groups between the clips. */
    public function n(): int
    {
        $single =
            in_array($this->kind, ['recovery', 'balance'], true) ||
            ($this->kind === 'discharge' && $this->group !== null && $this->planV < self::SINGLE * $this->pack->profile()->fullV);

        return $single ? 1 : $this->pack->series;
    }

    public function isSingle(): bool
    {
        return in_array($this->kind, ['recovery', 'balance'], true);
    }

    public function charges(): bool
    {
        return $this->kind !== 'discharge';
    }

    /** +1 into the pack, -1 out of it. */
    public function sign(): int
    {
        return $this->charges() ? 1 : -1;
    }

    /** Full volts of one group that the board would not cut short. */
    public function fullV(): float
    {
        return $this->pack->workingFullV();
    }

    /** Volts of one group under which nothing starts: the recovery floor; in a discharge where it ends. */
    public function floorV(): float
    {
        if ($this->charges()) {
            return $this->pack->profile()->floorV;
        }

        return max($this->pack->profile()->testCutoffV, $this->pack->lowCutV());
    }

    /** Ohms between the clips as a healthy pack of this kind has them. */
    public function ohm(): float
    {
        return ($this->n() * $this->pack->groupResistanceMohm()) / 1000;
    }

    /** Amps that count as none with the output off. */
    public function offA(): float
    {
        return max(RunLimits::OFF_A, RunLimits::OFF_SHARE * ($this->rangeA ?? 0.0), $this->resolutionA);
    }

    /** Volts that the supply is set to, or the load's own cut-off. */
    public function volts(): float
    {
        if (!$this->charges()) {
            return max($this->n() * $this->floorV(), $this->limitV ?? 0.0);
        }

        return min($this->n() * $this->fullV(), $this->limitV ?? INF);
    }

    /** Amps ordered in a phase, signed: the handbook's share of capacity, never over what cells or board may take. */
    public function amps(Phase $phase): float
    {
        $c = $this->capacityAh();
        $share = match ($phase) {
            Phase::Precharge => RunLimits::SLOW_C,
            Phase::Raise, Phase::Fill => RunLimits::RAISE_C,
            Phase::Charge => $this->kind === 'bypass' ? RunLimits::SLOW_C : RunLimits::CHARGE_C,
            Phase::Discharge => RunLimits::DISCHARGE_C,
            default => 0.0,
        };
        $most = match (true) {
            $phase === Phase::Precharge => RunLimits::SLOW_MOST_C * $c,
            $this->kind === 'bypass' => RunLimits::SLOW_C * $c,
            default => $this->limits() === [] ? $share * $c : INF,
        };
        $planned = $phase === Phase::Raise && $this->kind === 'recovery' ? $share * $c : abs($this->planA ?? $share * $c);

        return $this->sign() * min([$planned, $most, $this->limitA === null ? INF : abs($this->limitA), ...$this->limits()]);
    }

    /**
     * The plan with what a person has read since.
     *
     * @param  float  $v  volts at the clips
     */
    public function withReading(float $v): self
    {
        $a = $this->toArray();
        $a['plan_v'] = $v;
        $a['plan_sigma_v'] = 0.0;

        return self::fromArray($a);
    }

    /** Whether the end is full, by its tail, and no rest voltage. */
    public function isToFull(): bool
    {
        // A phosphate plateau says nothing of charge: there the target is full, whatever voltage was asked for.
        return $this->targetV === null || ($this->pack->chemistry->isPhosphate() && $this->kind !== 'discharge');
    }

    /** @return list<float> amps that cells and board are rated for, as far as known */
    private function limits(): array
    {
        $cell = $this->charges() ? $this->pack->cell->float('max_charge_a') : $this->pack->cell->float('max_continuous_a');
        $board = $this->charges() ? $this->pack->bms->float('charge_limit_a') : $this->pack->bms->float('discharge_limit_a');

        return array_values(
            array_filter(
                [$cell === null ? null : $cell * ($this->pack->parallel ?? 1), $board],
                fn(?float $x): bool => $x !== null && $x > 0,
            ),
        );
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'kind' => $this->kind,
            'pack' => $this->packData,
            'group' => $this->group,
            'plan_v' => $this->planV,
            'plan_sigma_v' => $this->planSigmaV,
            'ambient_c' => $this->ambientC,
            'target_v' => $this->targetV,
            'target_ah' => $this->targetAh,
            'plan_a' => $this->planA,
            'limit_a' => $this->limitA,
            'limit_v' => $this->limitV,
            'below_floor_allowed' => $this->belowFloorAllowed,
            'closes_at_s' => $this->closesAtS,
            'confirm_every_min' => $this->confirmEveryMin,
            'resolution_v' => $this->resolutionV,
            'resolution_a' => $this->resolutionA,
            'known_v' => $this->knownV,
            'asks_clip' => $this->asksClip,
            'by_hand' => $this->byHand,
            'range_a' => $this->rangeA,
            'hurried' => $this->hurried,
        ];
    }

    /**
     * @param  array<array-key, mixed>  $a  as `toArray()` gave it
     *
     * @throws CannotRun
     */
    public static function fromArray(array $a): self
    {
        $f = new Fields($a);
        $kind = $f->string('kind') ?? '';
        if (!in_array($kind, self::KINDS, true)) {
            throw new CannotRun('/kind', "there is no run of the kind '$kind'");
        }
        $pack = is_array($a['pack'] ?? null) ? $a['pack'] : [];

        return new self(
            $kind,
            PackSpec::from(new Fields($pack)),
            $pack,
            $f->int('group'),
            $f->float('plan_v') ?? throw new CannotRun('/plan_v', 'the volts of the plan are missing'),
            $f->float('plan_sigma_v') ?? 0.0,
            $f->float('ambient_c') ?? self::ROOM_C,
            $f->float('target_v'),
            $f->float('target_ah'),
            $f->float('plan_a'),
            $f->float('limit_a'),
            $f->float('limit_v'),
            $f->bool('below_floor_allowed') ?? false,
            $f->float('closes_at_s'),
            $f->float('confirm_every_min'),
            $f->float('resolution_v') ?? self::FINE_V,
            $f->float('resolution_a') ?? self::FINE_A,
            $f->numbers('known_v'),
            $f->bool('asks_clip') ?? false,
            $f->bool('by_hand') ?? false,
            $f->float('range_a'),
            $f->bool('hurried') ?? false,
        );
    }

    /** Whether a senior's word lets a group under the floor be tried (handbook "Recovery of a deep-discharged group"). */
    public static function overrideCounts(?float $belowFloorDays, ?string $role, string $reason): bool
    {
        return $belowFloorDays !== null &&
            $belowFloorDays > 0.0 &&
            $belowFloorDays < RunLimits::BELOW_FLOOR_DAYS &&
            in_array($role, ['senior', 'owner'], true) &&
            trim($reason) !== '';
    }
}
