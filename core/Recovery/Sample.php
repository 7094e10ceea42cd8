<?php

declare(strict_types=1);

namespace Heartwood\Core\Recovery;

/** One look at the group: seconds on the run's clock, volts, amps into it, degC; null where the instrument gave nothing. */
final readonly class Sample
{
    /** @param  list<float>|null  $groups  volts of every group, where a run watches all of them */
    private function __construct(public float $t, public ?float $v, public ?float $a, public ?float $c, public ?array $groups = null)
    {
    }

    /**
     * Values that no instrument means (overload, an open thermistor) count as not read.
     *
     * @param  list<float>|null  $groups
     */
    public static function of(float $t, ?float $v, ?float $a, ?float $c, ?array $groups = null): self
    {
        return new self($t, $v !== null && is_finite($v) && abs($v) < 20 ? $v : null, $a !== null && is_finite($a) && abs($a) < 1000 ? $a : null, $c !== null && is_finite($c) && $c > -30 && $c < 120 ? $c : null, $groups);
    }

    public function isWhole(): bool
    {
        return $this->v !== null && $this->a !== null && $this->c !== null;
    }
}
