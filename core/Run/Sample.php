<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

/**
 * One look: seconds on the run's clock, volts at the clips, amps into the pack, degC, the set-points as read back, the
 * volts of every group where a scanner watches. Null where the instrument gave nothing.
 */
final readonly class Sample
{
    /** What no instrument on a bench can show: it is taken for no reading. */
    private const COLDEST_C = -60;

    /** See above. */
    private const HOTTEST_C = 200;

    /** See above. */
    private const MOST_V = 1500;

    /** See above. */
    private const MOST_A = 2000;

    /** See above. */
    private const MOST_GROUP_V = 20;

    private const OVERLOAD = 1e30;

    /**
     * @param  list<float|null>|null  $groups  volts of every group, null where unread
     * @param  bool  $overload  volts or amps were given as overload or as what no instrument means
     */
    private function __construct(
        public float $t,
        public ?float $v,
        public ?float $a,
        public ?float $c,
        public ?float $setV,
        public ?float $setA,
        public ?array $groups,
        public ?float $supplyV,
        public ?float $ambientC,
        public bool $overload,
    ) {}

    /** @param  list<float|null>|null  $groups */
    public static function of(
        float $t,
        ?float $v,
        ?float $a,
        ?float $c,
        ?float $setV = null,
        ?float $setA = null,
        ?array $groups = null,
        ?float $supplyV = null,
        ?float $ambientC = null,
    ): self {
        $over = fn(?float $x): bool => $x !== null && (!is_finite($x) || abs($x) >= self::OVERLOAD);
        $number = fn(?float $x, float $most): ?float => $x !== null && is_finite($x) && abs($x) < $most ? $x : null;
        $degrees = fn(?float $x): ?float => $x !== null && is_finite($x) && $x > self::COLDEST_C && $x < self::HOTTEST_C ? $x : null;

        return new self(
            $t,
            $number($v, self::MOST_V),
            $number($a, self::MOST_A),
            $degrees($c),
            $number($setV, self::MOST_V),
            $number($setA, self::MOST_A),
            $groups === null ? null : array_map(fn(?float $x): ?float => $number($x, self::MOST_GROUP_V), $groups),
            $number($supplyV, self::MOST_V),
            $degrees($ambientC),
            $over($v) || $over($a),
        );
    }

    public function hasVoltsAndAmps(): bool
    {
        return $this->v !== null && $this->a !== null;
    }

    /** Whether every group of so many was read. */
    public function hasGroups(int $series): bool
    {
        return $this->groups !== null && count($this->groups) === $series && !in_array(null, $this->groups, true);
    }
}
