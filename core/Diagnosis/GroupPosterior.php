<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

/** Probabilities of one group's states, summing to 1, and what each feature said. */
final readonly class GroupPosterior
{
    /**
     * @param  array<string, float>  $probabilities  by state code
     * @param  array<string, array<string, float>>  $features  likelihood by feature and state code
     */
    private function __construct(public GroupEvidence $evidence, public array $probabilities, public array $features)
    {
    }

    /**
     * @param  array<string, float>  $prior  at least one above 0
     * @param  array<string, array<string, float>>  $features
     */
    public static function of(GroupEvidence $evidence, array $prior, array $features): self
    {
        $log = [];
        foreach ($prior as $s => $p) {
            if ($p > 0) {
                $log[$s] = log($p);
                foreach ($features as $likelihood) {
                    $log[$s] += log(max(1e-30, $likelihood[$s]));
                }
            }
        }
        $top = $log === [] ? 0.0 : max($log);
        $sum = array_sum(array_map(fn (float $l): float => exp($l - $top), $log));
        $out = [];
        foreach (array_keys($prior) as $s) {
            $out[$s] = isset($log[$s]) ? exp($log[$s] - $top) / $sum : 0.0;
        }

        return new self($evidence, $out, $features);
    }

    public function p(GroupState $state): float
    {
        return $this->probabilities[$state->value];
    }

    public function best(): GroupState
    {
        $best = GroupState::Ok;
        foreach (GroupState::cases() as $s) {
            $best = $this->p($s) > $this->p($best) ? $s : $best;
        }

        return $best;
    }

    /** Weight of one feature for a state against all the others together, in decibans. */
    public function decibans(string $feature, GroupState $state): float
    {
        $mine = $this->features[$feature][$state->value] ?? null;
        if ($mine === null) {
            return 0.0;
        }
        $others = $weight = 0.0;
        foreach ($this->features[$feature] as $s => $l) {
            if ($s !== $state->value) {
                $share = $s === GroupState::Ok->value ? 0.7 : 0.3 * (GroupState::from($s))->share();
                $others += $share * $l;
                $weight += $share;
            }
        }

        return 10 * log10(max(1e-12, $mine) / max(1e-12, $others / $weight));
    }

    public function entropyBits(): float
    {
        $h = 0.0;
        foreach ($this->probabilities as $p) {
            $h -= $p > 1e-12 ? $p * log($p, 2) : 0.0;
        }

        return $h;
    }
}
