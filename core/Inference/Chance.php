<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

use Heartwood\Core\Feature\Feature;

/** Probabilities of the few outcomes that a test may have. */
final readonly class Chance implements Signature
{
    /** However sure a test is, something unforeseen may happen (assumed). */
    private const LEAST = 1e-4;

    /** @param  array<string, float>  $of  probability by outcome */
    public function __construct(private array $of) {}

    public function density(Feature $seen): float
    {
        // An outcome without a word of its own has what the others leave.
        return max(self::LEAST, $this->of[$seen->outcome] ?? 1 - array_sum($this->of));
    }

    public function sample(Dice $dice, Feature $like): Feature
    {
        $u = $dice->roll() * array_sum($this->of);
        $outcome = (string) array_key_last($this->of);
        foreach ($this->of as $name => $p) {
            if (($u -= $p) <= 0) {
                $outcome = (string) $name;
                break;
            }
        }

        return Feature::outcome($like->kind, $outcome);
    }
}
