<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol;

use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Reading\TypedValue;

/** Volts of the groups as they were typed in a row: each across its group, or each from B-. */
final readonly class TypedGroups
{
    /** No cell shows more than its full voltage times this: what does was read from B- (assumed). */
    private const MORE_THAN_A_CELL = 1.2;

    /**
     * @param  list<array{from: string, to: string, typed: string}>  $readings
     * @param  list<float|null>  $volts  of each group, from B-; null where it was not read
     */
    private function __construct(public array $readings, public array $volts) {}

    /** @return list<string> as typed, "-" where one is missing */
    public static function split(string $typed): array
    {
        return array_values(array_filter(preg_split('/[\s;|]+/', trim($typed)) ?: [], fn(string $p): bool => $p !== ''));
    }

    /** @param  string  $typed  as many numbers as groups: `Field::problem` has looked at it */
    public static function of(string $typed, Chemistry $chemistry): self
    {
        $parts = self::split($typed);
        $numbers = array_map(fn(string $p): ?float => $p === '-' ? null : TypedValue::parse($p)?->volts, $parts);
        $read = array_filter($numbers, fn(?float $v): bool => $v !== null);
        $fromBelow = $read !== [] && max($read) > self::MORE_THAN_A_CELL * $chemistry->profile()->fullV;
        $readings = $volts = [];
        foreach ($parts as $i => $p) {
            $volts[] = match (true) {
                $numbers[$i] === null => null,
                !$fromBelow => $numbers[$i],
                $i === 0 => $numbers[0],
                $numbers[$i - 1] === null => null,
                default => $numbers[$i] - $numbers[$i - 1],
            };
            if ($numbers[$i] !== null) {
                $readings[] = ['from' => 'T' . ($fromBelow ? 0 : $i), 'to' => 'T' . ($i + 1), 'typed' => $p];
            }
        }

        return new self($readings, $volts);
    }
}
