<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

use Heartwood\Core\Limits\BuildLimits;

/** A board at one side of the pack, and how long its main leads are: null where they can be cut to length. */
final readonly class BoardEnd
{
    /** @param  'left'|'right'|'top'|'bottom'  $side  of the front face */
    public function __construct(public string $side, public ?float $minusMm = null, public ?float $plusMm = null) {}

    /**
     * What a lead wants from a place on a face to the middle of the board's side: along the face, round the edge to the
     * middle of the depth, and a little slack.
     *
     * @param  float  $round  millimetres from the face to the middle of the depth
     */
    public function reach(float $x, float $y, float $width, float $height, float $round): float
    {
        $to = match ($this->side) {
            'left' => $x + abs($y - $height / 2),
            'right' => $width - $x + abs($y - $height / 2),
            'top' => $y + abs($x - $width / 2),
            'bottom' => $height - $y + abs($x - $width / 2),
        };

        return $to + $round + BuildLimits::SLACK_MM;
    }
}
