<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Record\Place;

/**
 * Exclusive causes of one complaint: observations multiply their weights, each leaves its line in the ledger, and a
 * test that might be done is worth the entropy it is expected to take away (handbook "Verdicts").
 */
final class Causes
{
    /** Chance that a test is positive under a cause it does not speak of. */
    private const STRAY = 0.03;

    /** @var array<string, list<Evidence>> */
    private array $ledger = [];

    /** @param  array<string, float>  $weights  by cause, not negative */
    public function __construct(private array $weights)
    {
    }

    /**
     * What was seen, as how much likelier it is under each cause named.
     *
     * @param  array<string, float>  $factors  above 0, by cause; the others stay as they are
     * @param  'measured'|'derived'|'assumed'|'predicted'  $basis
     */
    public function multiply(array $factors, string $text, string $basis = 'measured'): void
    {
        foreach ($factors as $cause => $factor) {
            if (isset($this->weights[$cause]) && $factor !== 1.0) {
                $this->weights[$cause] *= $factor;
                $this->note($cause, $text, 10 * log10($factor), $basis);
            }
        }
    }

    /** @param  'measured'|'derived'|'assumed'|'predicted'  $basis */
    public function note(string $cause, string $text, float $decibans, string $basis = 'measured'): void
    {
        $this->ledger[$cause][] = new Evidence($text, $decibans, $basis);
    }

    /** @return array<string, float> summing to 1; all 0 when nothing has weight */
    public function probabilities(): array
    {
        $sum = array_sum($this->weights);

        return array_map(fn (float $w): float => $w / max(1e-12, $sum), $this->weights);
    }

    public function p(string $cause): float
    {
        return $this->probabilities()[$cause] ?? 0.0;
    }

    /** @return list<Evidence> */
    public function evidence(string $cause): array
    {
        return $this->ledger[$cause] ?? [];
    }

    public function entropyBits(): float
    {
        $h = 0.0;
        foreach ($this->probabilities() as $p) {
            $h -= $p > 1e-12 ? $p * log($p, 2) : 0.0;
        }

        return $h;
    }

    /** @param  array<string, float>  $chance of a positive outcome under each cause the test speaks of */
    public function offer(TestKind $kind, string $why, array $chance, ?Place $where = null): NextTest
    {
        return new NextTest($kind, $where ?? Place::pack(), $why, $kind->minutes(), $this->expectedGain($chance));
    }

    /** @param  array<string, float>  $chance */
    private function expectedGain(array $chance): float
    {
        $gain = $this->entropyBits();
        foreach ([true, false] as $positive) {
            $joint = [];
            foreach ($this->probabilities() as $cause => $p) {
                $c = $chance[$cause] ?? self::STRAY;
                $joint[] = $p * ($positive ? $c : 1 - $c);
            }
            $total = array_sum($joint);
            foreach ($joint as $j) {
                $gain += $j > 1e-12 ? $j * log($j / $total, 2) : 0.0;
            }
        }

        return max(0.0, $gain);
    }
}
