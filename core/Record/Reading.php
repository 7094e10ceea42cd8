<?php

declare(strict_types=1);

namespace Heartwood\Core\Record;

/** One difference of potential, volts, `to` minus `from`, as the meter showed it. */
final readonly class Reading
{
    public function __construct(
        public string $from,
        public string $to,
        public float $volts,
        public ?float $resolutionV,
        public ?float $atS,
        public string $pointer,
    ) {}

    /** Tap number of a name such as T4, null for a terminal. */
    public static function tap(string $name): ?int
    {
        return preg_match('/^T(\d{1,3})$/D', $name, $m) === 1 ? (int) $m[1] : null;
    }

    public function isBetweenTaps(): bool
    {
        return $this->from[0] === 'T' && $this->to[0] === 'T';
    }

    public function isOutput(): bool
    {
        return ($this->from === 'P-' && $this->to === 'P+') || ($this->from === 'P+' && $this->to === 'P-');
    }

    public function isChargePort(): bool
    {
        return ($this->from === 'C-' && $this->to === 'C+') || ($this->from === 'C+' && $this->to === 'C-');
    }

    /** How a technician would name it: "T3 to T4". */
    public function name(): string
    {
        return $this->from . ' to ' . $this->to;
    }
}
