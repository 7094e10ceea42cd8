<?php

declare(strict_types=1);

namespace Heartwood\Core\Twin;

/** What came of one step: how it ended, what flowed, the series, and the pack's state after it. */
final readonly class Run
{
    /**
     * @param  'taper'|'group-full'|'group-empty'|'load-cutoff'|'time'  $endedBy
     * @param  int|null  $group  the group that ended it
     * @param  float  $ah  through the pack's terminals, positive
     * @param  list<float>  $leftCharge  state of charge of each group afterwards
     * @param  list<float>  $slowV  voltage left on each group's RC pair
     * @param  list<float>  $time  seconds
     * @param  list<float>  $packV
     * @param  list<float>  $amps
     * @param  list<list<float>>  $groupsV  one series a group
     * @param  float  $bledAh  through the bleed resistors of all groups
     * @param  float  $leakedAh  inside the cells of all groups
     */
    public function __construct(
        public string $mode,
        public string $endedBy,
        public ?int $group,
        public float $ah,
        public float $wh,
        public float $seconds,
        public array $leftCharge,
        public array $slowV,
        public array $time,
        public array $packV,
        public array $amps,
        public array $groupsV,
        public float $bledAh,
        public float $leakedAh,
    ) {}

    /** A pack can reach its voltage with one group far from full. */
    private function notFull(): string
    {
        $least = $this->leftCharge === [] ? 1.0 : min($this->leftCharge);
        $k = (int) array_search($least, $this->leftCharge, true) + 1;

        return $least > 0.93 ? ', every group full' : sprintf(' with group %d only at %.0f %%', $k, 100 * $least);
    }

    public function sentence(): string
    {
        $ah = sprintf('%.1f Ah', $this->ah);

        return match ($this->endedBy) {
            'taper' => "the charger tapers off after $ah" . $this->notFull(),
            'group-full' => "the charge stops after $ah since group {$this->group} is full",
            'group-empty' => "it stops after $ah since group {$this->group} is empty",
            'load-cutoff' => "the device stops by itself after $ah",
            default => $this->mode === 'rest' ? sprintf('rests %.1f h', $this->seconds / 3600) : "still running after $ah",
        };
    }
}
