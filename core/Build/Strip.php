<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

use Heartwood\Core\Limits\BuildLimits;

/** A strip between cells: what it may carry and how many layers a current wants (handbook "Current budget"). */
final readonly class Strip
{
    private const RHO = ['nickel' => 7.0e-8, 'plated-steel' => 1.5e-7, 'copper' => 1.75e-8];

    private const A_PER_MM2 = ['nickel' => 6.0, 'plated-steel' => 3.0, 'copper' => 10.0];

    /** @param  'nickel'|'plated-steel'|'copper'  $material */
    public function __construct(public string $material, public float $widthMm, public float $thicknessMm, public int $layers = 1) {}

    public static function of(string $material, float $widthMm, float $thicknessMm, int $layers = 1): self
    {
        if ($material !== 'nickel' && $material !== 'plated-steel' && $material !== 'copper') {
            throw new \InvalidArgumentException('strip material is nickel, plated-steel or copper');
        }

        return new self($material, $widthMm, $thicknessMm, $layers);
    }

    /** Ohms of one link of this length, all layers together. */
    public function ohm(float $lengthMm): float
    {
        return (self::RHO[$this->material] * ($lengthMm / 1000)) / ($this->widthMm * $this->thicknessMm * $this->layers * 1e-6);
    }

    /** Amps that one link may carry: by density or by its heat, the lower. */
    public function amps(float $lengthMm): float
    {
        return min(
            self::A_PER_MM2[$this->material] * $this->widthMm * $this->thicknessMm * $this->layers,
            sqrt(BuildLimits::LINK_W / $this->ohm($lengthMm)),
        );
    }

    /** Layers that a current through one link wants. */
    public function layersFor(float $amps, float $lengthMm): int
    {
        $one = (new self($this->material, $this->widthMm, $this->thicknessMm))->amps($lengthMm);
        for ($n = 1; $n < 50; $n++) {
            if ((new self($this->material, $this->widthMm, $this->thicknessMm, $n))->amps($lengthMm) >= $amps) {
                return $n;
            }
        }

        return (int) ceil($amps / max(1e-9, $one));
    }
}
