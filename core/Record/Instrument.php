<?php

declare(strict_types=1);

namespace Heartwood\Core\Record;

/**
 * A meter's accuracy: so many percent of reading and counts of the last digit.
 * Where the record gives none, a plain handheld meter is assumed: 0.5 % and 2 counts.
 */
final readonly class Instrument
{
    public const DEFAULT_PERCENT = 0.5;

    public const DEFAULT_COUNTS = 2.0;

    public function __construct(
        public string $id,
        public float $percent,
        public float $counts,
        public ?float $resolutionV,
        public ?string $input,
        public bool $assumed,
    ) {}

    public static function from(Fields $fields): self
    {
        return new self(
            $fields->string('id') ?? 'meter',
            $fields->float('percent') ?? self::DEFAULT_PERCENT,
            $fields->float('counts') ?? ($fields->has('percent') ? 0.0 : self::DEFAULT_COUNTS),
            $fields->float('resolution_v'),
            $fields->string('input'),
            !$fields->has('percent'),
        );
    }

    /** Resolution of one reading, volts: its own, else coarse above 10 V when it shows two decimals or fewer, else the range's. */
    public function resolutionOf(Reading $reading): float
    {
        if ($reading->resolutionV !== null) {
            return $reading->resolutionV;
        }
        if (abs($reading->volts) > 10.0 && abs($reading->volts * 100 - round($reading->volts * 100)) < 1e-6) {
            return max(0.01, $this->resolutionV ?? 0.0);
        }

        return $this->resolutionV ?? 0.001;
    }

    /** 1 sigma of a reading without the gain part: counts (GUM type B), never below the rounding itself. */
    public function countSigma(float $resolutionV): float
    {
        return max(($this->counts * $resolutionV) / sqrt(3.0), $resolutionV / sqrt(12.0), 1e-5);
    }

    public function gainSigma(): float
    {
        return max(1e-6, $this->percent / 100.0 / sqrt(3.0));
    }
}
