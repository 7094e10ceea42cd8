<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

use Heartwood\Core\Feature\Feature;
use Heartwood\Core\Feature\RestFeature;
use Heartwood\Core\Maths\Normal;
use Heartwood\Core\Maths\Tiny;

/** What a state says of a rest voltage: a law of the charge against the pack's middle, and one of volts as they are. */
final readonly class RestLaw implements Signature
{
    /** Volts per unit of charge that the curve is never flatter than: what a meter resolves on a plateau. */
    private const FLATTEST_V = 0.1;

    /** No rest voltage is known better: of a group all low together, and of one by its volts. */
    private const LOW_SIGMA_V = 0.01;

    /** See above. */
    private const SIGMA_V = 0.003;

    /** Volts over full that no state but over-charge reaches. */
    private const PAST_FULL_V = 0.03;

    /** Density of a value that no law expects. */
    private const ANYWHERE = 1e-5;

    /** 1 sigma of the charge of a reading that is imagined for the next test. */
    private const DRAWN_SIGMA = 0.01;

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
    public function __construct(
        private Situation $situation,
        private ?Law $charge,
        private ?Law $volts = null,
        private bool $mayBePastFull = false,
        private float $nearShare = 1.0,
    ) {}

    public function density(Feature $seen): float
    {
        $near = 0.0;
        if ($this->charge !== null) {
            if ($seen instanceof RestFeature && $seen->charge !== null) {
                // The curve's slope blurs a difference that is there; it does not make one out of nothing.
                $near =
                    $this->charge->at(
                        $seen->charge,
                        hypot($seen->chargeSigma, self::SLOPE_SIGMA * $seen->charge),
                        max(Tiny::COARSE, $seen->chargeSigma),
                    ) / max(self::FLATTEST_V, $seen->voltsPerCharge);
            } else {
                $near = Normal::blurredFlat(
                    $seen->x,
                    $this->situation->emptyV,
                    $this->situation->fullV,
                    max(self::LOW_SIGMA_V, $seen->sigma),
                );
            }
            if (!$this->mayBePastFull && $seen->x > $this->situation->fullV + self::PAST_FULL_V + $seen->sigma) {
                $near *= self::PAST_FULL;
            }
        }
        $density =
            self::ANYWHERE +
            $this->nearShare * $near +
            ($this->volts === null ? 0.0 : $this->volts->at($seen->x, max(self::SIGMA_V, $seen->sigma), max(self::SIGMA_V, $seen->sigma)));
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

        return new RestFeature(
            $this->situation->curve->volts($soc),
            $like->sigma,
            $d,
            self::DRAWN_SIGMA,
            max(self::FLATTEST_V, $this->situation->curve->slope($soc)),
        );
    }
}
