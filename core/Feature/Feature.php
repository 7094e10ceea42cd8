<?php

declare(strict_types=1);

namespace Heartwood\Core\Feature;

/** One thing that is known of one place, with its uncertainty, in a technician's words, and where it comes from. */
readonly class Feature
{
    /**
     * @param  float  $x  its value, in the unit of its kind; 0 where it is an outcome
     * @param  float  $sigma  1 sigma of the value as it stands
     * @param  float|null  $noise  1 sigma that is there even where the value is 0 (meter and rounding); null: as sigma
     * @param  string  $outcome  one of a few, for kinds that are not a number
     * @param  float  $through  charge that went through the whole pack meanwhile, fraction of capacity a day
     * @param  float|null  $scatter  how far sound fellows of the same pack stray, 1 sigma, where enough of them were measured
     * @param  'measured'|'derived'|'assumed'|'predicted'|'reported'  $basis
     */
    public function __construct(
        public FeatureKind $kind,
        public float $x = 0.0,
        public float $sigma = 0.0,
        public ?float $noise = null,
        public string $outcome = '',
        public float $through = 0.0,
        public ?float $scatter = null,
        public string $words = '',
        public string $basis = 'derived',
    ) {}

    /** @param  'measured'|'derived'|'assumed'|'predicted'|'reported'  $basis */
    public static function outcome(FeatureKind $kind, string $outcome, string $words = '', string $basis = 'measured'): self
    {
        return new self($kind, outcome: $outcome, words: $words, basis: $basis);
    }
}
