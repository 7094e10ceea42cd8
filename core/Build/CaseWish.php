<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

/** The case that a pack has to go into, as a person describes it. Millimetres; null where it does not matter. */
final readonly class CaseWish
{
    /**
     * @param  'box'|'round'|'stairs'|'two-layers'|'rows'  $shape  rows: flat cells in rows one behind the other
     * @param  list<array{int, int}>  $left  places (column, row) of a box that stay empty
     * @param  list<array{int, int}>  $rows  first column and count of each row of a staircase, from the top
     * @param  int  $stackRows  of flat cells
     */
    public function __construct(
        public string $shape = 'box',
        public ?float $width = null,
        public ?float $height = null,
        public ?float $depth = null,
        public ?float $round = null,
        public ?string $packing = null,
        public array $left = [],
        public array $rows = [],
        public int $stackRows = 1,
        public ?BoardEnd $board = null,
    ) {}
}
