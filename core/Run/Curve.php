<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

/**
 * The course of a run for a drawing, however long it goes on: stretches of equal count, of each the lowest and the highest volts, so
 * that a dip of one sample is still seen after a day. When there are too many stretches, two become one.
 *
 * A sample is t seconds since the start, v volts, a amps, c degrees Celsius, low and high the volts that are expected; null where it
 * was not to be had.
 *
 * @phpstan-type Point array{t: float, v: float|null, a: float|null, c: float|null, low: float|null, high: float|null}
 */
final class Curve
{
    /** The most stretches that are held; at the most two points each are drawn. A display of 1280 pixels shows no more. */
    public const STRETCHES = 300;

    private int $every = 1;

    /** Samples in the last stretch. */
    private int $filled = 0;

    /** @var list<array{0: Point, 1: Point}> the lowest and the highest of each */
    private array $stretches = [];

    /** @param  Point  $p */
    public function take(array $p): void
    {
        if ($this->filled === 0) {
            $this->stretches[] = [$p, $p];
        } else {
            $last = count($this->stretches) - 1;
            $this->stretches[$last] = self::both($this->stretches[$last], [$p, $p]);
        }
        $this->filled = ($this->filled + 1) % $this->every;
        if ($this->filled === 0 && count($this->stretches) === self::STRETCHES) {
            $this->stretches = array_map(
                fn(array $two): array => count($two) === 2 ? self::both($two[0], $two[1]) : $two[0],
                array_chunk($this->stretches, 2),
            );
            $this->every *= 2;
        }
    }

    /** Samples that one stretch stands for. */
    public function every(): int
    {
        return $this->every;
    }

    /** @return list<Point> in the order of time */
    public function points(): array
    {
        $out = [];
        foreach ($this->stretches as [$low, $high]) {
            array_push(
                $out,
                ...match ($low['t'] <=> $high['t']) {
                    0 => [$low],
                    -1 => [$low, $high],
                    1 => [$high, $low],
                },
            );
        }

        return $out;
    }

    /**
     * @param  array{0: Point, 1: Point}  $a
     * @param  array{0: Point, 1: Point}  $b
     * @return array{0: Point, 1: Point}
     */
    private static function both(array $a, array $b): array
    {
        // What has no volts gives way to what has.
        return [
            $b[0]['v'] !== null && ($a[0]['v'] === null || $b[0]['v'] < $a[0]['v']) ? $b[0] : $a[0],
            $b[1]['v'] !== null && ($a[1]['v'] === null || $b[1]['v'] > $a[1]['v']) ? $b[1] : $a[1],
        ];
    }
}
