<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

use Heartwood\Core\Record\Instrument;
use Heartwood\Core\Record\Reading;

/** A reading between two taps, ready for adjustment: its own sigma and the meter range whose gain it shares. */
final readonly class NetworkReading
{
    public function __construct(
        public int $from,
        public int $to,
        public float $volts,
        public float $resolutionV,
        public float $sigmaV,
        public string $range,
        public float $gainSigma,
        public string $pointer,
        public bool $board = false,
    ) {}

    public static function of(Reading $reading, Instrument $instrument, bool $board = false): self
    {
        $resolution = $instrument->resolutionOf($reading);

        return new self(
            (int) Reading::tap($reading->from),
            (int) Reading::tap($reading->to),
            $reading->volts,
            $resolution,
            $instrument->countSigma($resolution),
            $instrument->id . '/' . $resolution,
            $instrument->gainSigma(),
            $reading->pointer,
            $board,
        );
    }

    /** The same reading with another value. */
    public function at(float $volts): self
    {
        return new self(
            $this->from,
            $this->to,
            $volts,
            $this->resolutionV,
            $this->sigmaV,
            $this->range,
            $this->gainSigma,
            $this->pointer,
            $this->board,
        );
    }

    public function isAcross(int $group): bool
    {
        return min($this->from, $this->to) === $group - 1 && max($this->from, $this->to) === $group;
    }

    public function name(): string
    {
        return "T{$this->from} to T{$this->to}";
    }
}
