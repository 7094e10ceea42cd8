<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

use Heartwood\Core\Feature\Feature;
use Heartwood\Core\Maths\Normal;
use Heartwood\Core\Maths\Tiny;

/** A law over one number: bells and flats, each with a weight, blurred by what the measurement itself is unsure of. */
final readonly class Law implements Signature
{
    /** Peers that agree narrow a law, but never under this. */
    private const SCATTER_LEAST = 0.008;

    /** However odd a value is, something unforeseen may explain it: density per unit (assumed). */
    private const FLOOR = 1e-5;

    /** @param  list<array{weight: float, low: float, high: float, width: float, through: bool}>  $parts  a bell where low = high */
    private function __construct(private array $parts, private float $floor) {}

    public static function over(float $floor = self::FLOOR): self
    {
        return new self([], $floor);
    }

    /** Around $mean with $width; $through: times the charge that went through the pack. */
    public function bell(float $weight, float $mean, float $width, bool $through = false): self
    {
        return new self(
            [...$this->parts, ['weight' => $weight, 'low' => $mean, 'high' => $mean, 'width' => $width, 'through' => $through]],
            $this->floor,
        );
    }

    public function flat(float $weight, float $low, float $high, bool $through = false): self
    {
        return new self(
            [...$this->parts, ['weight' => $weight, 'low' => $low, 'high' => $high, 'width' => 0.0, 'through' => $through]],
            $this->floor,
        );
    }

    /** The parts of another law at a share of their weight. */
    public function also(float $share, self $other): self
    {
        return new self(
            [...$this->parts, ...array_map(fn(array $p): array => ['weight' => $share * $p['weight']] + $p, $other->parts)],
            $this->floor,
        );
    }

    public function density(Feature $seen): float
    {
        return $this->at($seen->x, $seen->sigma, $seen->noise ?? $seen->sigma, $seen->through, $seen->scatter);
    }

    public function at(float $x, float $sigma, float $noise, float $through = 0.0, ?float $scatter = null): float
    {
        $sum = $this->floor;
        foreach ($this->parts as $p) {
            $scale = $p['through'] ? $through : 1.0;
            if ($p['low'] === $p['high']) {
                $sum +=
                    $p['weight'] *
                    Normal::density(
                        $x,
                        $p['low'] * $scale,
                        max(
                            Tiny::SLACK,
                            sqrt(
                                $noise * $noise +
                                    ($scatter === null ? $p['width'] : min($p['width'], max(self::SCATTER_LEAST, 2 * $scatter))) ** 2,
                            ),
                        ),
                    );
            } else {
                [$low, $high] = [min($p['low'] * $scale, $p['high'] * $scale), max($p['low'] * $scale, $p['high'] * $scale)];
                $sum +=
                    $p['weight'] *
                    ($high - $low < Tiny::SLACK
                        ? Normal::density($x, $low, max(Tiny::SLACK, $noise))
                        : Normal::blurredFlat($x, $low, $high, max(Tiny::SLACK, $p['through'] ? $noise : $sigma)));
            }
        }

        return $sum;
    }

    public function value(Dice $dice, float $through = 0.0): float
    {
        $u = $dice->roll() * array_sum(array_column($this->parts, 'weight'));
        foreach ($this->parts as $p) {
            if (($u -= $p['weight']) <= 0) {
                $scale = $p['through'] ? $through : 1.0;

                return $p['low'] === $p['high']
                    ? $p['low'] * $scale + $p['width'] * $dice->normal()
                    : $scale * ($p['low'] + $dice->roll() * ($p['high'] - $p['low']));
            }
        }

        return 0.0;
    }

    public function sample(Dice $dice, Feature $like): Feature
    {
        return new Feature(
            $like->kind,
            $this->value($dice, $like->through) + min($like->sigma, $like->noise ?? $like->sigma) * $dice->normal(),
            $like->sigma,
            $like->noise,
            through: $like->through,
        );
    }
}
