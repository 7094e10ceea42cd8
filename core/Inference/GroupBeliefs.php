<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

use Heartwood\Core\Fault\Group\Ok;
use Heartwood\Core\Fault\Joint\HighResistance as WeakJoint;
use Heartwood\Core\Feature\Feature;
use Heartwood\Core\Maths\Tiny;

/**
 * What is believed of one group: probabilities of its states, "a weak joint loads it" among them, summing to 1; the
 * features it rests on and how likely each state makes each of them.
 */
final readonly class GroupBeliefs
{
    /**
     * @param  array<string, float>  $probabilities  by code, the weak joint's among them
     * @param  list<Feature>  $features
     * @param  array<string, array<string, float>>  $densities  by kind of feature and code
     */
    public function __construct(public int $group, public array $probabilities, public array $features, public array $densities) {}

    public function p(string $code): float
    {
        return $this->probabilities[$code] ?? 0.0;
    }

    public function sick(): float
    {
        return 1 - $this->p(Ok::CODE);
    }

    public function best(): string
    {
        $best = Ok::CODE;
        foreach ($this->probabilities as $code => $p) {
            $best = $p > $this->p($best) ? $code : $best;
        }

        return $best;
    }

    /** @return array<string, float> states of the group itself: a joint loads it but is no state of it */
    public function states(): array
    {
        $states = $this->probabilities;
        $states[Ok::CODE] += $states[WeakJoint::CODE];
        unset($states[WeakJoint::CODE]);
        arsort($states);

        return $states;
    }

    /**
     * Weight of one feature for a state against all the others together, in decibans.
     *
     * @param  array<string, float>  $shares  weight of each other state
     */
    public function decibans(string $kind, string $code, array $shares): float
    {
        $mine = $this->densities[$kind][$code] ?? null;
        if ($mine === null) {
            return 0.0;
        }
        $others = $weight = 0.0;
        foreach ($this->densities[$kind] as $other => $density) {
            if ($other !== $code) {
                $others += ($shares[$other] ?? 0.0) * $density;
                $weight += $shares[$other] ?? 0.0;
            }
        }

        return $weight <= 0.0 ? 0.0 : 10 * log10(max(Tiny::CHANCE, $mine) / max(Tiny::CHANCE, $others / $weight));
    }

    public function entropyBits(): float
    {
        $bits = 0.0;
        foreach ($this->probabilities as $p) {
            $bits -= $p > Tiny::CHANCE ? $p * log($p) : 0.0;
        }

        return $bits / M_LN2;
    }

    /**
     * The same after one more feature, whose density in each state is given, by Bayes' rule on the states alone.
     *
     * @param  callable(string): float  $density
     */
    public function after(callable $density): self
    {
        $out = [];
        foreach ($this->probabilities as $code => $p) {
            $out[$code] = $p > 0.0 ? $p * $density($code) : 0.0;
        }
        $sum = array_sum($out);

        return new self(
            $this->group,
            $sum > 0.0 ? array_map(fn(float $x): float => $x / $sum, $out) : $this->probabilities,
            $this->features,
            $this->densities,
        );
    }
}
