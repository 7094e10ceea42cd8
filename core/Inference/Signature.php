<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

use Heartwood\Core\Feature\Feature;

/** What one fault predicts of one kind of feature: how likely a value is, and a value drawn from the same law. */
interface Signature
{
    /** Density per unit of the feature (probability, where it is an outcome), above 0. */
    public function density(Feature $seen): float;

    /** @param  Feature  $like  the feature as the test would give it, with its uncertainty */
    public function sample(Dice $dice, Feature $like): Feature;
}
