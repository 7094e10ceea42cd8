<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

use Heartwood\Core\Diagnosis\Evidence;
use Heartwood\Core\Diagnosis\NextTest;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Feature\Feature;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Record\Place;

/**
 * What keeps current from flowing one way. Each cause is there or not; what was measured of one speaks for itself; the
 * complaint couples them, because any one explains it ("noisy or", Pearl, Probabilistic Reasoning in Intelligent
 * Systems, 1988). The states of the board exclude one another. Solved exactly, by going through every combination.
 */
final class Switching
{
    /** Causes with odds, and combinations with a weight, under this are left out: they change no figure that is shown. */
    private const LEAST_ODDS = 1e-5;

    /** Entropy under which nothing of it is open. */
    public const SETTLED_BITS = 0.05;

    private const LEAST_WAY = 1e-8;

    /** @var array<string, array{odds: float, explains: float}> by cause */
    private array $causes = [];

    /** @var array<string, list<string>> causes of which at most one is there */
    private array $exclusive = [];

    /** @var array<string, list<Evidence>> */
    private array $ledger = [];

    /** @var array<string, float> */
    private array $probabilities = [];

    private ?float $stray = null;

    public function __construct(private readonly Situation $situation) {}

    /**
     * @param  float  $prior  that it is there, before anything is known
     * @param  float  $explains  chance that it alone brings the complaint about
     * @param  string  $group  causes of one group exclude one another
     */
    public function cause(string $code, float $prior, float $explains = 1.0, string $group = ''): void
    {
        $this->causes[$code] = ['odds' => $prior / max(Tiny::SLACK, 1 - $prior), 'explains' => $explains];
        $this->exclusive[$group === '' ? $code : $group][] = $code;
    }

    public function has(string $code): bool
    {
        return isset($this->causes[$code]);
    }

    /** Somebody complains, or it was read: $stray is the chance of that with none of the causes there. */
    public function complaint(float $stray): void
    {
        $this->stray = $stray;
    }

    public function see(Feature $feature): void
    {
        foreach (array_keys($this->causes) as $code) {
            $ratio = $this->ratio($code, $feature);
            if ($ratio !== null) {
                $this->causes[$code]['odds'] *= $ratio;
                $this->note($code, $feature->words, 10 * log10($ratio), $feature->basis);
            }
        }
    }

    /** How much likelier a feature is with the cause there than without; null where it says nothing of it. */
    private function ratio(string $code, Feature $feature): ?float
    {
        $signature = isset(Faults::all()[$code]) ? Faults::of($code)->signature($feature->kind, $this->situation) : null;

        return $signature === null ? null : $signature->density($feature) / Background::of($feature->kind)->density($feature);
    }

    /** @param  'measured'|'derived'|'assumed'|'predicted'|'reported'  $basis */
    public function note(string $code, string $text, float $decibans, string $basis): void
    {
        $this->ledger[$code][] = new Evidence($text, $decibans, $basis);
    }

    public function solve(): void
    {
        [$this->probabilities] = $this->through([]);
    }

    /**
     * Every combination of causes, with what was seen and one feature more.
     *
     * @param  array<string, float>  $ratios  how much likelier that feature is with a cause there than without
     * @return array{array<string, float>, float} probability by cause, and how likely all of it is
     */
    private function through(array $ratios): array
    {
        $blocks = [];
        foreach ($this->exclusive as $codes) {
            $block = [];
            foreach ($codes as $code) {
                $odds = $this->causes[$code]['odds'] * ($ratios[$code] ?? 1.0);
                if ($odds > self::LEAST_ODDS) {
                    $block[] = [$code, $odds, 1 - $this->causes[$code]['explains']];
                }
            }
            if ($block !== []) {
                $blocks[] = $block;
            }
        }
        if ($this->stray === null) {
            // Nobody complains: nothing couples them.
            $alone = array_fill_keys(array_keys($this->causes), 0.0);
            $all = 1.0;
            foreach ($blocks as $block) {
                $sum = 1 + array_sum(array_column($block, 1));
                $all *= $sum;
                foreach ($block as [$code, $odds]) {
                    $alone[$code] = $odds / $sum;
                }
            }

            return [$alone, $all];
        }
        $ways = [[1.0, 1.0, []]];
        foreach ($blocks as $block) {
            $more = [];
            foreach ($ways as [$weight, $unexplained, $there]) {
                foreach ($block as [$code, $odds, $left]) {
                    if ($weight * $odds > self::LEAST_WAY) {
                        $more[] = [$weight * $odds, $unexplained * $left, [...$there, $code]];
                    }
                }
            }
            $ways = [...$ways, ...$more];
        }
        $mass = array_fill_keys(array_keys($this->causes), 0.0);
        $total = 0.0;
        foreach ($ways as [$weight, $unexplained, $there]) {
            $w = $weight * (1 - (1 - $this->stray) * $unexplained);
            $total += $w;
            foreach ($there as $code) {
                $mass[$code] += $w;
            }
        }

        return [array_map(fn(float $m): float => $m / max(Tiny::WEIGHT, $total), $mass), $total];
    }

    public function p(string $code): float
    {
        return $this->probabilities[$code] ?? 0.0;
    }

    /** @return array<string, float> by cause */
    public function probabilities(): array
    {
        return $this->probabilities;
    }

    /** @return list<Evidence> */
    public function evidence(string $code): array
    {
        return $this->ledger[$code] ?? [];
    }

    public function entropyBits(): float
    {
        $bits = 0.0;
        foreach ($this->probabilities as $p) {
            $bits += $this->bits($p);
        }

        return $bits;
    }

    /**
     * The entropy that a test is expected to take away: each of its outcomes, from the same signatures, and what is believed after it.
     *
     * @param  list<string>  $outcomes  what may come out of it
     */
    public function offer(TestKind $test, string $why, FeatureKind $kind, array $outcomes, ?Place $where = null): NextTest
    {
        $after = $weights = [];
        foreach ($outcomes as $outcome) {
            $seen = Feature::outcome($kind, $outcome);
            $ratios = array_filter(
                array_combine(
                    array_keys($this->causes),
                    array_map(fn(string $code): ?float => $this->ratio($code, $seen), array_keys($this->causes)),
                ),
                fn(?float $r): bool => $r !== null,
            );
            [$probabilities, $total] = $this->through($ratios);
            $weights[$outcome] = $total * Background::of($kind)->density($seen);
            $after[$outcome] = array_sum(array_map($this->bits(...), $probabilities));
        }
        $sum = array_sum($weights);
        $expected = array_sum(array_map(fn(string $o): float => ($weights[$o] / max(Tiny::WEIGHT, $sum)) * $after[$o], $outcomes));

        return new NextTest($test, $where ?? Place::pack(), $why, $test->minutes(), max(0.0, $this->entropyBits() - $expected));
    }

    private function bits(float $p): float
    {
        return $p <= Tiny::CHANCE || $p >= 1 - Tiny::CHANCE ? 0.0 : -$p * log($p, 2) - (1 - $p) * log(1 - $p, 2);
    }
}
