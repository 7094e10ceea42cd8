<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

/** Group voltages with covariance, what was dropped or doubted, and what the redundancy can see. */
final readonly class NetworkSolution
{
    /**
     * @param  list<GroupVoltage>  $groups  one per group, from the negative end
     * @param  list<Suspicion>  $suspicions
     * @param  list<array{from: int, to: int, volts: float, sigma: float}>  $spans  stretches of several groups of which only the
     *   whole was read
     * @param  int  $redundancy  readings beyond those needed to fix the taps they touch
     */
    public function __construct(
        public array $groups,
        public array $suspicions,
        public int $redundancy,
        public ?float $packV,
        public ?float $packSigmaV,
        public array $spans = [],
    ) {}

    public function group(int $k): GroupVoltage
    {
        return $this->groups[$k - 1];
    }

    /** @return list<GroupVoltage> groups that have a voltage */
    public function read(): array
    {
        return array_values(array_filter($this->groups, fn(GroupVoltage $g): bool => $g->volts !== null));
    }

    public function isComplete(): bool
    {
        return count($this->read()) === count($this->groups);
    }
}
