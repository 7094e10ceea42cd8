<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

/** A stretch of one sign and level of current. Seconds, amp-seconds and watt-seconds with sign, volts, amps. */
final readonly class LogStep
{
    /** @param  -1|0|1  $kind  discharge, rest, charge */
    public function __construct(
        public int $kind,
        public float $from,
        public float $to,
        public float $as,
        public float $ws,
        public float $vStart,
        public float $vEnd,
        public float $aEnd,
        public ?float $cutoffAs,
        public ?float $cutoffWs,
    ) {}

    /** What was held back as a possible gap and is none. */
    public function plus(float $as, float $ws): self
    {
        return new self(
            $this->kind,
            $this->from,
            $this->to,
            $this->as + $as,
            $this->ws + $ws,
            $this->vStart,
            $this->vEnd,
            $this->aEnd,
            $this->cutoffAs === null ? null : $this->cutoffAs + $as,
            $this->cutoffWs === null ? null : $this->cutoffWs + $ws,
        );
    }

    /** @return array<string, float|string|null> */
    public function toArray(): array
    {
        return [
            'kind' => [-1 => 'discharge', 0 => 'rest', 1 => 'charge'][$this->kind],
            'from_s' => round($this->from, 3),
            'to_s' => round($this->to, 3),
            'ah' => round($this->as / 3600, 6),
            'wh' => round($this->ws / 3600, 5),
            'v_start' => round($this->vStart, 4),
            'v_end' => round($this->vEnd, 4),
            'a_mean' => round($this->as / max(1e-9, $this->to - $this->from), 5),
            'a_end' => round($this->aEnd, 5),
            'cutoff_ah' => $this->cutoffAs === null ? null : round($this->cutoffAs / 3600, 6),
            'cutoff_wh' => $this->cutoffWs === null ? null : round($this->cutoffWs / 3600, 5),
        ];
    }
}
