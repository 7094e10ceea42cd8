<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Safety\Gate;
use Heartwood\Core\Safety\SafetyState;
use Heartwood\Core\Safety\Triage;

/**
 * Whether an act must never be done on what is shown or has been measured (handbook "Safety gates", "Gates on work" and
 * handbook "Recovery of a deep-discharged group"). What nobody could know yet is no fault of whoever acts.
 */
final readonly class Unsafe
{
    /** Tests by which current flows through groups. */
    private const WITH_CURRENT = ['capacity', 'charge', 'discharge', 'recovery', 'refill', 'strip-millivolt'];

    /** Of these, what fills one; a tester empties it first and puts back what it took, and so goes past nothing. */
    private const FILLS = ['capacity', 'charge', 'refill'];

    private const PUTS_BACK = 'capacity';

    public function __construct(private Round $round) {}

    /** @return string|null the rule that it breaks, in a sentence; null where it breaks none */
    public function why(Fields $act): ?string
    {
        $do = (string) $act->string('do');
        $test = $act->object('test');
        $kind = $do === 'test' ? (string) $test->string('kind') : $do;
        $joint = $kind === 'continuity' && $test->string('element') === 'joint';
        $pulse = $kind === 'wake' && $test->string('action') === 'charger-pulse';
        if (!in_array($do, ['load', 'charge', 'level'], true) && !in_array($kind, self::WITH_CURRENT, true) && !$joint && !$pulse) {
            return null;
        }
        if (!$this->round->hasLooked()) {
            return 'Triage: current flowed before anybody had looked at the pack.';
        }
        $p = $this->round->patient->spec;
        $triage = Triage::assess(Fields::of($this->round->patient->inspection), $this->round->patient->symptoms, $p->fullVolts());
        $gated = Gate::refuses($triage->state, $kind === 'recovery' ? 'recover-or-balance' : 'load-or-charge', false);
        if ($triage->state !== SafetyState::Clear && $gated !== null) {
            return $gated;
        }
        $volts = $this->round->knownV();
        if (in_array(null, $volts, true)) {
            $k = (int) array_search(null, $volts, true) + 1;

            return "Current flowed before every group was read: nobody knows how group $k stands.";
        }
        /** @var list<float> $volts */
        $one = $test->object('scope')->int('group');
        if ($do === 'level') {
            return $this->levels($volts, $p);
        }
        $fills = $do === 'charge' || $pulse || in_array($kind, self::FILLS, true);

        return $this->limits($do, $act, $p) ??
            ($kind === 'recovery'
                ? $this->recovery($volts, $one, $test, $p)
                : $this->groups($volts, $one, $fills, $fills && $kind !== self::PUTS_BACK, $p));
    }

    /**
     * On its charger a board bleeds what stands over full, up to its own cut.
     *
     * @param  list<float>  $volts
     */
    private function levels(array $volts, PackSpec $p): ?string
    {
        foreach ($volts as $i => $v) {
            if ($v > $p->highCutV()) {
                return sprintf('Group %d stands at %.2f V, over its board\'s cut: no charger on it.', $i + 1, $v);
            }
        }

        return $this->groups($volts, null, true, false, $p);
    }

    private function limits(string $do, Fields $act, PackSpec $p): ?string
    {
        $amps = abs((float) $act->float('current_a'));
        $cells = $p->parallel ?? 1;
        $most =
            $do === 'charge'
                ? min($p->bms->float('charge_limit_a') ?? INF, $cells * ($p->cell->float('max_charge_a') ?? INF))
                : min($p->bms->float('discharge_limit_a') ?? INF, $cells * ($p->cell->float('max_continuous_a') ?? INF));

        return in_array($do, ['load', 'charge'], true) && $amps > $most
            ? sprintf('%.1f A is more than this pack may be given or asked for: %.1f A.', $amps, $most)
            : null;
    }

    /**
     * @param  list<float>  $volts
     * @param  bool  $brings  charge is put in
     * @param  bool  $past  beyond what it holds now
     */
    private function groups(array $volts, ?int $one, bool $brings, bool $past, PackSpec $p): ?string
    {
        foreach ($volts as $i => $v) {
            $why = $one === null || $one === $i + 1 ? self::ofGroup($i + 1, $v, $p, $brings || $one === null, $past) : null;
            if ($why !== null) {
                return $why;
            }
        }

        return null;
    }

    /**
     * What one group at these volts forbids, where current is to flow through it.
     *
     * @param  bool  $whole  it is filled, or carries what the whole pack carries: under its cut-off it must not
     * @param  bool  $fills  and above full it must not be
     */
    public static function ofGroup(int $k, float $v, PackSpec $p, bool $whole, bool $fills): ?string
    {
        $floor = $p->profile()->floorV;

        return match (true) {
            $v < 0.0 => "Group $k is reversed: no current through it; it is never revived, and never charged.",
            $v < $floor => sprintf(
                'Group %d stands at %.2f V, under the floor of %.2f V: no current through it; it is replaced, not revived.',
                $k,
                $v,
                $floor,
            ),
            $whole && $v < $p->lowCutV() => sprintf(
                'Group %d stands at %.2f V, under its cut-off: it is recovered by itself or replaced, first.',
                $k,
                $v,
            ),
            $fills && $v > $p->profile()->fullV + RunLimits::PAST_FULL_V => sprintf(
                'Group %d stands at %.2f V: a charge goes past full.',
                $k,
                $v,
            ),
            default => null,
        };
    }

    /** @param  list<float>  $volts */
    private function recovery(array $volts, ?int $k, Fields $test, PackSpec $p): ?string
    {
        $v = $volts[($k ?? 0) - 1] ?? null;

        return $v === null
            ? null
            : self::ofGroup((int) $k, $v, $p, false, false) ?? self::ofSlow(abs((float) $test->float('current_a')), $p);
    }

    /** More than a recovery takes. */
    private static function ofSlow(float $amps, PackSpec $p): ?string
    {
        $most = RunLimits::SLOW_MOST_C * (float) $p->groupCapacityAh();

        return $amps > $most ? sprintf('A recovery takes C/20, at most C/10: %.2f A.', $most) : null;
    }

    /**
     * What a supply on one group at these volts must not be set to.
     *
     * @param  float  $amps  0: as the plan has it
     */
    public static function ofSupply(float $v, float $amps, PackSpec $p): ?string
    {
        $most = ($p->parallel ?? 1) * ($p->cell->float('max_charge_a') ?? INF);

        return match (true) {
            $v < $p->profile()->prechargeV => self::ofSlow($amps, $p),
            $amps > $most => sprintf('%.1f A is more than these cells may be given: %.1f A.', $amps, $most),
            default => null,
        };
    }
}
