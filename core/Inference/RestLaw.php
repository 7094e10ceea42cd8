<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

use Heartwood\Core\Feature\Feature;
use Heartwood\Core\Feature\RestFeature;
use Heartwood\Core\Maths\Normal;

/** What a state says of a rest voltage: a law of the charge against the pack's middle, and one of volts as they are. */
final readonly class RestLaw implements Signature
{
    /** Own uncertainty of the rest curve's slope, as a share of a difference of charge (handbook "Chemistry profiles"). */
    private const SLOPE_SIGMA = 0.25;

    /** A voltage in doubt may be a slip: then it says nothing of the group; per volt (assumed). */
    private const SLIP = 0.25;

    /** Past full is past full, whatever the neighbours do: what is left of the law of charge there (assumed). */
    private const PAST_FULL = 0.05;

    /**
     * @param  Law|null  $charge  over the difference of charge, as a fraction
     * @param  Law|null  $volts  over volts, weights included
     */
    public function __construct(private Situation $situation, private ?Law $charge, private ?Law $volts = null, private bool $mayBePastFull = false, private float $nearShare = 1.0)
    {
    }

    public function density(Feature $seen): float
    {
        $near = 0.0;
        if ($this->charge !== null) {
            if ($seen instanceof RestFeature && $seen->charge !== null) {
                // The curve's slope blurs a difference that is there; it does not make one out of nothing.
                $near = $this->charge->at($seen->charge, hypot($seen->chargeSigma, self::SLOPE_SIGMA * $seen->charge), max(1e-4, $seen->chargeSigma)) / max(0.1, $seen->voltsPerCharge);
            } else {
                $near = Normal::blurredFlat($seen->x, $this->situation->emptyV, $this->situation->fullV, max(0.01, $seen->sigma));
            }
            if (! $this->mayBePastFull && $seen->x > $this->situation->fullV + 0.03 + $seen->sigma) {
                $near *= self::PAST_FULL;
            }
        }
        $density = 1e-5 + $this->nearShare * $near + ($this->volts === null ? 0.0 : $this->volts->at($seen->x, max(0.003, $seen->sigma), max(0.003, $seen->sigma)));
        $doubt = $seen instanceof RestFeature ? $seen->doubt : 0.0;

        return $density * (1 - $doubt) + $doubt * self::SLIP;
    }

    public function sample(Dice $dice, Feature $like): Feature
    {
        if ($this->charge === null || ($this->volts !== null && $dice->roll() > $this->nearShare)) {
            return new RestFeature($this->volts?->value($dice) ?? $this->situation->emptyV, $like->sigma, null, 0.0);
        }
        $d = $this->charge->value($dice);
        $soc = max(0.0, min(1.0, $this->situation->middleCharge + $d));

        return new RestFeature($this->situation->curve->volts($soc), $like->sigma, $d, 0.01, max(0.1, $this->situation->curve->slope($soc)));
    }
}
