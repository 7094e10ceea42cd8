<?php

declare(strict_types=1);

namespace Heartwood\Core\Feature;

/**
 * A group's voltage at rest and what it says of its charge against the pack's middle. The charge's sigma leaves the
 * curve's slope out: that blurs a difference which is there and makes none.
 */
final readonly class RestFeature extends Feature
{
    public function __construct(
        float $volts,
        float $sigmaV,
        public ?float $charge,
        public float $chargeSigma,
        public float $voltsPerCharge = 1.0,
        public float $doubt = 0.0,
        string $words = '',
        string $basis = 'derived',
    ) {
        parent::__construct(FeatureKind::Rest, $volts, $sigmaV, words: $words, basis: $basis);
    }
}
