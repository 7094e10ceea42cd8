<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

/**
 * One group's voltage out of the adjusted network; null where no chain of readings reaches it. `ownSigmaV` leaves the
 * shared gain out, for comparing groups; `doubtProbability` is that of the reading, not the group, being off.
 */
final readonly class GroupVoltage
{
    /** Decimals of a volt that a page shows of a group. */
    public const DECIMALS = 4;

    public function __construct(
        public int $group,
        public ?float $volts,
        public ?float $sigmaV,
        public bool $across,
        public float $ownSigmaV = 0.001,
        public ?string $doubt = null,
        public float $doubtProbability = 0.0,
    ) {}

    /** "measured" when a probe stood on both its taps, else the difference of others. */
    public function basis(): string
    {
        return $this->across ? 'measured' : 'derived';
    }

    public function doubted(string $why, float $probability): self
    {
        return new self($this->group, $this->volts, $this->sigmaV, $this->across, $this->ownSigmaV, $why, $probability);
    }

    public function withSigma(float $volts, float $sigmaV): self
    {
        return new self(
            $this->group,
            $volts,
            $sigmaV,
            $this->across,
            max($sigmaV, $this->ownSigmaV),
            $this->doubt,
            $this->doubtProbability,
        );
    }
}
