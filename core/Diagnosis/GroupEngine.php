<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Maths\Normal;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Record\PackSpec;

/**
 * Posterior over the exclusive states of one group from the features that exist, each a density around what the
 * state predicts (handbook "Verdicts"). A feature that was not measured says nothing and weighs nothing.
 */
final readonly class GroupEngine
{
    /** Likelihood floor: however odd a reading is, something unforeseen may explain it. */
    private const FLOOR = 1e-5;

    /** Expected number of faulty groups in a pack that reaches the bench (assumed). */
    private const FAULTY = 0.9;

    /** Spread of charge among healthy groups, 1 sigma, as a fraction. */
    private const HEALTHY_CHARGE = 0.014;

    /** Own uncertainty of the rest curve's slope, as a share of a difference of charge. */
    private const SLOPE_SIGMA = 0.25;

    /** Healthy self-discharge differs from group to group by about 1.5 % a month. */
    private const HEALTHY_LEAK = 0.0005;

    public function __construct(private PackSpec $pack, private float $emptyV, private ?float $middleV, private float $middleCharge = 0.5, private ?Priors $priors = null, private float $complaint = 1.0, private bool $lowTogether = false)
    {
    }

    public function posterior(GroupEvidence $e): GroupPosterior
    {
        $faulty = min(0.35, self::FAULTY * $this->complaint * $e->priorShare / max(2, $this->pack->series));
        $prior = $features = [];
        foreach (GroupState::cases() as $s) {
            $prior[$s->value] = $s === GroupState::Ok ? 1 - $faulty : $faulty * ($this->priors === null ? $s->share() : $this->priors->share($s));
        }
        if (($this->pack->parallel ?? 2) < 2) {
            $prior[GroupState::MissingCell->value] = 0.0;
        }
        foreach (['rest', 'leak', 'resistance', 'capacity', 'weld', 'strips', 'cells', 'joint', 'top', 'bottom', 'stays', 'recovery'] as $feature) {
            $likelihood = [];
            foreach (GroupState::cases() as $s) {
                $l = match ($feature) {
                    'rest' => $e->restV === null ? null : $this->rest($s, $e),
                    'leak' => $e->leakPerDay === null ? null : $this->leak($s, $e, $e->leakPerDay),
                    'resistance' => $e->resistance === null ? null : $this->resistance($s, $e->resistance, $e->resistanceSigma),
                    'capacity' => $e->capacity === null ? null : $this->capacity($s, $e->capacity, $e->capacitySigma),
                    'weld' => $this->weld($s, $e),
                    'strips' => $e->stripLeaks === null ? null : $this->strips($s, $e->stripLeaks),
                    'cells' => $e->cellResistance === null ? null : $this->cells($s, $e->cellResistance),
                    'joint' => $e->jointProved === null ? null : $this->joint($s, $e->jointProved),
                    'top' => $e->aheadAtTop === null ? null : $this->top($s, $e->aheadAtTop),
                    'bottom' => $e->aheadAtBottom === null ? null : $this->bottom($s, $e->aheadAtBottom, $e->bottomAsResistance),
                    'stays' => $e->staysAtTop === null ? null : $this->stays($s, $e->staysAtTop),
                    'recovery' => $e->recovery === null ? null : $this->recovery($s, $e->recovery),
                };
                if ($l === null) {
                    continue 2;
                }
                $likelihood[$s->value] = $l;
            }
            $features[$feature] = $likelihood;
        }
        $this->pairOfOneLostCell($e, $features);

        return GroupPosterior::of($e, $prior, $features);
    }

    private function rest(GroupState $s, GroupEvidence $e): float
    {
        $v = (float) $e->restV;
        $sigma = max(0.003, $e->restSigmaV);
        $low = $this->pack->lowCutV();
        $floor = $this->pack->profile()->floorV;
        $full = $this->pack->profile()->fullV;
        $flat = fn (float $a, float $b): float => Normal::blurredFlat($v, $a, $b, $sigma);
        $near = $this->nearCharge($s, $e);
        if ($v > $full + 0.03 + $sigma && $s !== GroupState::Overcharged) {
            // Past full is past full, whatever the neighbours do.
            $near *= 0.05;
        }
        $drained = $this->emptyV > $low ? $flat($low, $this->emptyV + 0.02) : 0.0;
        $density = match ($s) {
            // A short can still show a voltage while it was charged lately.
            GroupState::Dead => 0.55 * $flat(-0.02, 0.5) + 0.35 * $flat(0.0, $floor) + 0.1 * $flat($floor, $low),
            GroupState::Reversed => $flat(-4.0, -0.02),
            GroupState::DeepDischarged => $flat($floor, $low),
            GroupState::SelfDischarge => 0.75 * $near + ($this->lowTogether ? 0.01 : 0.13) * $flat($floor, $low) + 0.02 * $flat(0.0, $floor) + 0.1 * $drained,
            GroupState::Undercharged => 0.92 * $near + 0.08 * $drained,
            GroupState::Overcharged => 0.8 * $near + 0.2 * $flat($full + 0.01, $full + 0.3),
            GroupState::LowCapacity => 0.9 * $near + 0.1 * $drained,
            default => $near,
        };

        // A doubted voltage may be a slip: then it says nothing about the group.
        return ($density + self::FLOOR) * (1 - $e->doubtProbability) + $e->doubtProbability * 0.25;
    }

    /** Density per volt of the charge difference that a state predicts. */
    private function nearCharge(GroupState $s, GroupEvidence $e): float
    {
        if ($e->charge === null || $this->middleV === null) {
            // No neighbour to compare with: anything between empty and full.
            return Normal::blurredFlat((float) $e->restV, $this->emptyV, $this->pack->profile()->fullV, max(0.01, $e->restSigmaV));
        }
        $x = $e->charge;
        $sigma = max(1e-4, $e->chargeSigma);
        $healthy = hypot($sigma, self::HEALTHY_CHARGE);
        $normal = fn (float $width): float => Normal::density($x, 0.0, hypot($sigma, $width));
        // The curve's slope blurs a difference that is there; it does not make one out of nothing.
        $flat = fn (float $a, float $b): float => Normal::blurredFlat($x, $a, $b, hypot($sigma, self::SLOPE_SIGMA * $x));
        // There is only so much room above: a group cannot be fuller than full.
        $room = 1.02 - $this->middleCharge;
        $density = match ($s) {
            GroupState::Undercharged => 0.6 * $flat(-0.30, -0.04) + 0.4 * $flat(-0.80, -0.04),
            GroupState::Overcharged => 0.6 * $flat(0.03, max(0.05, min(0.30, $room))) + 0.4 * $flat(0.03, max(0.05, min(0.70, $room))),
            // A leaking group that was filled lately is as full as the others.
            GroupState::SelfDischarge => ($e->refillAh > 0.0 ? 0.7 : 0.3) * Normal::density($x, 0.0, $healthy) + ($e->refillAh > 0.0 ? 0.3 : 0.7) * $flat(-0.6, 0.0),
            // Level at the top and ever further behind below it, or level somewhere else.
            GroupState::LowCapacity => 0.6 * $normal(0.03) + 0.25 * $flat(-0.4, 0.1) + 0.15 * $flat(-max(0.1, 1 - $this->middleCharge), -0.1 * max(0.1, 1 - $this->middleCharge)),
            GroupState::MissingCell => 0.8 * $normal(0.025) + 0.2 * $flat(-0.3, 0.1),
            GroupState::Dead, GroupState::Reversed, GroupState::DeepDischarged => 0.0,
            default => 0.985 * Normal::density($x, 0.0, $healthy) + 0.015 * $normal(0.03),
        };

        // From charge to volts: every state shares the same slope here.
        return $density / max(0.1, $this->voltsPerCharge($e));
    }

    private function voltsPerCharge(GroupEvidence $e): float
    {
        return $e->charge === null || abs($e->charge) < 1e-3 ? 1.0 : abs(((float) $e->restV - (float) $this->middleV) / $e->charge);
    }

    private function leak(GroupState $s, GroupEvidence $e, float $x): float
    {
        $through = $e->throughput;
        // Charge through the whole pack moves a smaller group further: it looks like a leak and is none.
        $noise = hypot(max(1e-5, $e->leakNoise), 0.03 * $through);
        $sigma = hypot($e->leakSigma, 0.03 * $through);
        $wide = $e->refillAh > 0.0 ? 0.0008 : 0.05;
        $healthy = (1 - $wide) * Normal::density($x, 0.0, hypot($noise, self::HEALTHY_LEAK)) + $wide * Normal::density($x, 0.0, hypot($noise, 4 * self::HEALTHY_LEAK));

        return self::FLOOR + match ($s) {
            GroupState::SelfDischarge => 0.4 * Normal::blurredFlat($x, 0.002, 0.02, $sigma) + 0.35 * Normal::blurredFlat($x, 0.01, 0.1, $sigma) + 0.25 * Normal::blurredFlat($x, 0.05, 1.0, $sigma),
            GroupState::LowCapacity => abs($through) < 0.02 / max(0.1, $e->leakDays) ? $healthy : 0.2 * $healthy + 0.8 * Normal::blurredFlat($x, min(0.12 * $through, 1.2 * $through), max(0.12 * $through, 1.2 * $through), $noise),
            GroupState::MissingCell => Normal::density($x, $through * $this->lostShare(), hypot($noise, self::HEALTHY_LEAK)),
            GroupState::Dead, GroupState::Reversed, GroupState::DeepDischarged => 0.5 * $healthy + 0.5 * Normal::blurredFlat($x, -0.3, 0.3, $sigma),
            default => $healthy,
        };
    }

    private function resistance(GroupState $s, float $x, float $sigma): float
    {
        $ordinary = 0.93 * Normal::density($x, 0.0, hypot($sigma, 0.07)) + 0.07 * Normal::density($x, 0.0, hypot($sigma, 0.12));

        return self::FLOOR + match ($s) {
            GroupState::HighResistance => 0.75 * Normal::blurredFlat($x, 0.15, 1.0, $sigma) + 0.25 * Normal::blurredFlat($x, 0.15, 2.5, $sigma),
            GroupState::Joint => 0.6 * Normal::blurredFlat($x, 0.15, 1.5, $sigma) + 0.4 * Normal::blurredFlat($x, 0.2, 6.0, $sigma),
            GroupState::LowCapacity => 0.5 * Normal::density($x, 0.05, hypot($sigma, 0.1)) + 0.42 * Normal::blurredFlat($x, 0.0, 0.6, $sigma) + 0.08 * Normal::blurredFlat($x, 0.0, 1.5, $sigma),
            GroupState::MissingCell => Normal::density($x, $this->lostShare(), Robust::quadrature($sigma, 0.08, 0.15 * $this->lostShare())),
            GroupState::Dead, GroupState::Reversed, GroupState::DeepDischarged => Normal::blurredFlat($x, -0.5, 6.0, $sigma),
            // A group low in charge sags a little more.
            GroupState::Undercharged, GroupState::SelfDischarge => Normal::density($x, 0.04, hypot($sigma, 0.14)),
            default => $ordinary,
        };
    }

    private function capacity(GroupState $s, float $x, float $sigma): float
    {
        $ordinary = 0.9 * Normal::density($x, 1.0, hypot($sigma, 0.03)) + 0.1 * Normal::density($x, 0.97, hypot($sigma, 0.045));

        return self::FLOOR + match ($s) {
            GroupState::LowCapacity => Normal::blurredFlat($x, 0.2, 0.88, $sigma),
            // Cells that have aged in resistance have often lost a little capacity too; a joint has not.
            GroupState::HighResistance => 0.3 * $ordinary + 0.7 * Normal::blurredFlat($x, 0.86, 1.0, $sigma),
            GroupState::MissingCell => Normal::density($x, 1 - $this->lostCapacity(), hypot($sigma, 0.025)),
            GroupState::Dead, GroupState::Reversed => Normal::blurredFlat($x, 0.0, 0.5, $sigma),
            GroupState::DeepDischarged => Normal::blurredFlat($x, 0.3, 1.05, $sigma),
            default => $ordinary,
        };
    }

    /** A tug or a strip reading speaks of the weld itself. Null when neither was done. */
    private function weld(GroupState $s, GroupEvidence $e): ?float
    {
        $loose = $e->tugLoose ?? $e->stripDead;
        if ($loose === null) {
            return null;
        }

        // A weld that comes off, or a strip that carries nothing, is the fault itself before the eye.
        return $loose
            ? ($s === GroupState::MissingCell ? 0.9 : ($s === GroupState::Joint ? 0.05 : 0.0008))
            : ($s === GroupState::MissingCell ? 0.12 : 0.97);
    }

    /** At rest the leaking cell draws current through its strip. */
    private function strips(GroupState $s, bool $leaks): float
    {
        return $leaks
            ? ($s === GroupState::SelfDischarge ? 0.9 : ($s === GroupState::Dead || $s === GroupState::DeepDischarged ? 0.2 : 0.005))
            : ($s === GroupState::SelfDischarge ? 0.3 : 0.95);
    }

    /** Cells measured by themselves: a joint leaves them healthy. */
    private function cells(GroupState $s, float $x): float
    {
        $healthy = Normal::density($x, 0.0, 0.1);

        return 0.004 + match ($s) {
            GroupState::HighResistance => 0.6 * Normal::blurredFlat($x, 0.15, 1.2, 0.08) + 0.4 * Normal::blurredFlat($x, 0.15, 3.0, 0.08),
            GroupState::LowCapacity => 0.6 * $healthy + 0.3 * Normal::blurredFlat($x, 0.0, 0.7, 0.08) + 0.1 * Normal::blurredFlat($x, 0.0, 1.5, 0.08),
            GroupState::MissingCell => Normal::density($x, $this->lostShare(), 0.1),
            GroupState::Dead, GroupState::Reversed, GroupState::DeepDischarged => Normal::blurredFlat($x, -0.2, 5.0, 0.1),
            default => $healthy,
        };
    }

    private function joint(GroupState $s, bool $proved): float
    {
        return $proved ? ($s === GroupState::Joint ? 0.85 : 0.06) : ($s === GroupState::Joint ? 0.015 : 0.94);
    }

    /** Volts ahead of the others when a charge was stopped: fuller, smaller, or simply level. */
    private function top(GroupState $s, float $x): float
    {
        $level = Normal::density($x, 0.0, 0.02);
        $ahead = Normal::blurredFlat($x, 0.02, 0.5, 0.01);
        $behind = Normal::blurredFlat($x, -0.6, -0.02, 0.01);

        // On phosphate a group that is a little ahead shoots up at the end; elsewhere it takes a real difference.
        $stray = $this->pack->chemistry->isPhosphate() ? 0.02 : 0.004;

        return $stray + match ($s) {
            GroupState::Overcharged => 0.1 * $level + 0.9 * $ahead,
            GroupState::LowCapacity, GroupState::MissingCell => 0.45 * $level + 0.45 * $ahead + 0.1 * $behind,
            GroupState::HighResistance, GroupState::Joint => 0.6 * $level + 0.4 * $ahead,
            GroupState::Undercharged, GroupState::SelfDischarge => 0.1 * $level + 0.9 * $behind,
            GroupState::DeepDischarged, GroupState::Dead, GroupState::Reversed => $behind,
            default => (0.84 - 2 * $stray) * $level + 0.16 * Normal::density($x, 0.0, 0.05) + $stray * $ahead + $stray * $behind,
        };
    }

    /** Volts below the others when a discharge was stopped: emptier or smaller. */
    private function bottom(GroupState $s, float $x, ?float $asResistance): float
    {
        // No joint resists a dozen times what a group does: what is missing then is charge.
        $sags = $asResistance !== null && $asResistance > 6.0 ? 0.01 : 0.07;
        $level = Normal::density($x, 0.0, 0.05);
        $early = Normal::blurredFlat($x, 0.1, 1.2, 0.03);
        $late = Normal::blurredFlat($x, -0.8, -0.05, 0.03);

        return 0.004 + match ($s) {
            GroupState::LowCapacity => 0.1 * $level + 0.9 * $early,
            GroupState::Undercharged, GroupState::SelfDischarge => 0.2 * $level + 0.8 * $early,
            GroupState::MissingCell => 0.4 * $level + 0.6 * $early,
            GroupState::DeepDischarged, GroupState::Dead, GroupState::Reversed => $early,
            GroupState::HighResistance, GroupState::Joint => (1 - $sags) * $level + $sags * $early,
            GroupState::Overcharged => 0.3 * $level + 0.7 * $late,
            default => 0.97 * $level + 0.005 * $early + 0.025 * $late,
        };
    }

    /** What stays over the others once the charge current has stopped is charge, not resistance. */
    private function stays(GroupState $s, float $x): float
    {
        $level = Normal::density($x, 0.0, 0.008);
        $over = Normal::blurredFlat($x, 0.012, 0.4, 0.006);

        return 0.001 + match ($s) {
            GroupState::Overcharged => 0.1 * $level + 0.9 * $over,
            GroupState::LowCapacity => 0.8 * $level + 0.2 * $over,
            GroupState::HighResistance, GroupState::Joint => 0.95 * $level + 0.05 * $over,
            GroupState::Undercharged, GroupState::SelfDischarge => 0.6 * $level + 0.4 * Normal::blurredFlat($x, -0.3, -0.01, 0.006),
            default => 0.9995 * $level + 0.0005 * $over,
        };
    }

    private function recovery(GroupState $s, string $response): float
    {
        return match ($response) {
            'rises' => match ($s) {
                GroupState::Dead, GroupState::Reversed => 0.08,
                default => 0.9,
            },
            // Current goes in and the voltage does not come up: shorted, whatever it showed at rest.
            'falls' => match ($s) {
                GroupState::Dead => 0.9,
                GroupState::Reversed => 0.4,
                GroupState::SelfDischarge => 0.03,
                default => 0.01,
            },
            default => match ($s) {
                GroupState::Dead => 0.85,
                GroupState::Reversed => 0.4,
                GroupState::SelfDischarge => 0.05,
                default => 0.012,
            },
        };
    }

    /**
     * One cell lost of P and plain ageing can give the same pair of capacity and resistance: until a strip or a tug
     * speaks, a lost cell is never said likelier than ageing.
     *
     * @param  array<string, array<string, float>>  $features
     */
    private function pairOfOneLostCell(GroupEvidence $e, array &$features): void
    {
        if (($this->pack->parallel ?? 2) < 2 || isset($features['weld']) || (! isset($features['resistance']) && ! isset($features['capacity']))) {
            return;
        }
        $missing = GroupState::MissingCell->value;
        $aged = GroupState::LowCapacity->value;
        $share = GroupState::MissingCell->share() / GroupState::LowCapacity->share();
        $product = fn (string $s): float => array_product(array_map(fn (array $likelihood): float => $likelihood[$s], $features));
        $most = $product($aged) / (1.6 * $share);
        if ($product($missing) > $most) {
            $key = isset($features['capacity']) ? 'capacity' : 'resistance';
            $features[$key][$missing] *= $most / max(1e-30, $product($missing));
        }
    }

    /** Resistance rises by this share of itself when one of P cells is lost. */
    private function lostShare(): float
    {
        return 1 / max(1, ($this->pack->parallel ?? 3) - 1);
    }

    private function lostCapacity(): float
    {
        return 1 / max(2, $this->pack->parallel ?? 3);
    }
}
