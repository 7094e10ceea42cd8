<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

use Heartwood\Core\Limits\BuildLimits;
use Heartwood\Core\Maths\Tiny;

/** Looks for the build with the shortest links and the fewest different strips that fits the case (handbook "Build sheet"). */
final class LayoutSearch
{
    private const MOST_CELLS = 2000;

    /** Rows that are tried where the case does not say: up to three groups high, or a shape somewhat higher than wide. */
    private const GROUPS_HIGH = 3;

    private const HIGHER = 1.6;

    /** From so many cells only the first so many ways that fit are weighed: whole groups come first. */
    private const LARGE = 300;

    private const WEIGHED = 24;

    private int $weighed = 0;

    /**
     * What is better, in points: few kinds of strip, many links across, short links, little empty room, near to a square, rows
     * that need no jig, a drawing that is not turned, short leads.
     */
    private const KIND = 3.0;

    private const ACROSS = 40.0;

    private const LINK = 0.02;

    private const EMPTY = 2.0;

    private const SQUARE = 1.5;

    private const OFFSET = 0.3;

    private const TURNED = 0.05;

    private const LEAD = 0.05;

    private ?LayoutPlan $best = null;

    private float $score = INF;

    /** @var array{minus: float, plus: float}|null the leads of the plan that wants least, where all are too short */
    private ?array $tooShort = null;

    private readonly int $n;

    private function __construct(
        private readonly int $series,
        private readonly int $parallel,
        private readonly float $diameter,
        private readonly float $length,
        private readonly CaseWish $case,
    ) {
        $this->n = $series * $parallel;
    }

    /**
     * @param  float|null  $maxWidth  of the case, millimetres; null when it does not matter
     * @param  list<array{int, int}>  $left  places (column, row) that stay empty, for odd cases
     * @param  'cylindrical'|'stack'  $kind  round cells in rows, or prismatic and pouch cells in a stack
     *
     * @throws CannotBuild nothing fits
     */
    public static function find(
        int $series,
        int $parallel,
        float $diameter,
        float $length,
        ?float $maxWidth = null,
        ?float $maxHeight = null,
        string $kind = 'cylindrical',
        ?string $packing = null,
        array $left = [],
    ): LayoutPlan {
        return self::into(
            $series,
            $parallel,
            $diameter,
            $length,
            new CaseWish($kind === 'stack' ? 'rows' : 'box', $maxWidth, $maxHeight, packing: $packing, left: $left),
        );
    }

    /** @throws CannotBuild nothing fits */
    public static function into(int $series, int $parallel, float $diameter, float $length, CaseWish $case): LayoutPlan
    {
        if ($series < 1 || $parallel < 1 || $series * $parallel > self::MOST_CELLS) {
            throw new CannotBuild('From one cell to two thousand.');
        }
        $self = new self($series, $parallel, $diameter, $length, $case);
        match ($case->shape) {
            'round' => $self->round(),
            'stairs' => $self->stairs(),
            'two-layers' => $self->twoLayers(),
            'rows' => $self->rows(),
            default => $self->box(),
        };

        return $self->best ?? throw new CannotBuild($self->why(), $self->field());
    }

    /** @return list<string> */
    private function packings(): array
    {
        return $this->case->packing === null ? ['square', 'offset'] : [$this->case->packing];
    }

    private function box(): void
    {
        $left = $this->case->left;
        foreach ($this->packings() as $packing) {
            $this->weighed = 0;
            foreach ($this->heights($this->n, count($left)) as $rows) {
                $columns = (int) ceil(($this->n + count($left)) / $rows);
                // Places left out may cost a neighbour's place too: a column more is tried as well.
                foreach ($left === [] ? [$columns] : [$columns, $columns + 1] as $columns) {
                    $turns = $this->turns($columns, $rows, $packing, $columns * $rows - count($left) - $this->n);
                    $places = $turns === [] ? null : Places::box($columns, $rows, $this->diameter, $this->length, $packing, $left);
                    if ($places === null) {
                        continue;
                    }
                    $ways = Run::through($places, $this->n, $this->case->board !== null);
                    foreach ($turns as $turned) {
                        // A box that is full needs no more than the first: the others are the same, turned.
                        $this->weigh($places, $this->case->board === null && $left === [] ? array_slice($ways, 0, 1) : $ways, $turned);
                    }
                }
            }
        }
    }

    private function rows(): void
    {
        $rows = max(1, $this->case->stackRows);
        $places = Places::stack((int) ceil($this->n / $rows), $rows, $this->diameter, $this->length);
        foreach ([false, true] as $turned) {
            if ($this->fits($places->width, $places->height, turned: $turned)) {
                $this->weigh($places, Run::through($places, $this->n, $this->case->board !== null || $rows > 1), $turned);
            }
        }
    }

    private function stairs(): void
    {
        foreach ($this->packings() as $packing) {
            $places = Places::stairs($this->case->rows, $this->diameter, $this->length, $packing);
            if (count($places->at) >= $this->n && $this->fits($places->width, $places->height)) {
                $this->weigh($places, Run::through($places, $this->n, true), false);
            }
        }
    }

    private function round(): void
    {
        $all = Places::round($this->n, $this->diameter, $this->length, $this->case->round);
        $least = $all === [] ? 0.0 : min(array_map(fn(Places $p): float => $p->width, $all));
        foreach ($all as $places) {
            // Where the case is not said, the smallest is meant.
            if ($places->width <= $least + Tiny::SUM && $this->fits($places->width, $places->height)) {
                $this->weigh($places, Run::through($places, $this->n, true), false);
            }
        }
    }

    /** Groups 1 to k in one layer, the others in the next: the run crosses the fold once, between two groups. */
    private function twoLayers(): void
    {
        foreach (array_unique([intdiv($this->series, 2), (int) ceil($this->series / 2)]) as $first) {
            if ($first < 1 || $first === $this->series) {
                continue;
            }
            [$one, $two] = [$first * $this->parallel, ($this->series - $first) * $this->parallel];
            foreach ($this->packings() as $packing) {
                $this->weighed = 0;
                foreach ($this->heights(max($one, $two), 0) as $rows) {
                    $columns = (int) ceil(max($one, $two) / $rows);
                    $turns = $this->turns($columns, $rows, $packing, 2 * $columns * $rows - $this->n);
                    if ($turns === []) {
                        continue;
                    }
                    $places = Places::folded($columns, $rows, $this->diameter, $this->length, $packing);
                    $ways = $this->acrossFold($places, $columns, $one, $two);
                    foreach ($turns as $turned) {
                        $this->weigh($places, $ways, $turned);
                    }
                }
            }
        }
    }

    /**
     * From the fold outwards on either side.
     *
     * @return list<list<int>>
     */
    private function acrossFold(Places $places, int $columns, int $one, int $two): array
    {
        $lines = $places->rows[0];
        $out = [];
        foreach ([false, true] as $down) {
            $before = array_slice(self::outwards(array_reverse(array_slice($lines, 0, $columns)), $down), 0, $one);
            $after = array_slice(self::outwards(array_slice($lines, $columns), $down), 0, $two);
            $out[] = [...array_reverse($before), ...$after];
        }

        return $out;
    }

    /**
     * @param  list<list<int>>  $lines
     * @return list<int>
     */
    private static function outwards(array $lines, bool $down): array
    {
        $way = [];
        foreach ($lines as $k => $line) {
            array_push($way, ...($k % 2 === 0) !== $down ? $line : array_reverse($line));
        }

        return $way;
    }

    /**
     * Which ways round rows fit the case and could be better than the best so far.
     *
     * @return list<bool> turned or not
     */
    private function turns(int $columns, int $rows, string $packing, int $empty): array
    {
        [$w, $h] = Places::size($columns, $rows, $this->diameter, $packing);
        $at = $this->case->shape === 'two-layers' ? 2 * $w : $w;
        $least =
            self::KIND +
            (self::EMPTY * max(0, $empty)) / $this->n +
            self::SQUARE * abs(log(max(1.0, $at) / max(1.0, $h))) * (1 - Tiny::COARSE) -
            Tiny::COARSE +
            ($packing === 'offset' ? self::OFFSET : 0.0);
        $out = [];
        if ($this->n > self::LARGE && $this->best !== null && $this->weighed >= self::WEIGHED) {
            return [];
        }
        foreach ([false, true] as $turned) {
            if ($this->fits($w, $h, $turned) && $least + ($turned ? self::TURNED : 0.0) < $this->score) {
                $out[] = $turned;
            }
        }

        return $out;
    }

    private function fits(float $w, float $h, bool $turned = false): bool
    {
        [$w, $h] = $turned ? [$h, $w] : [$w, $h];
        $depth = $this->case->shape === 'two-layers' ? 2 * $this->length + BuildLimits::FOLD_MM : $this->length;

        return ($this->case->width === null || $w <= $this->case->width + Tiny::SLACK) &&
            ($this->case->height === null || $h <= $this->case->height + Tiny::SLACK) &&
            ($this->case->depth === null || $this->case->shape === 'rows' || $depth <= $this->case->depth + Tiny::SLACK);
    }

    /** @param  list<list<int>>  $ways */
    private function weigh(Places $places, array $ways, bool $turned): void
    {
        $this->weighed++;
        $sound = $this->tryWays($places, $ways, $turned);
        if (!$sound && $this->best === null) {
            $way = Run::anywhere($places, $this->n, $this->parallel);
            if ($way !== null) {
                $this->tryWays($places, [$way], $turned);
            }
        }
    }

    /**
     * @param  list<list<int>>  $ways
     * @return bool whether one of them can be built
     */
    private function tryWays(Places $places, array $ways, bool $turned): bool
    {
        $sound = false;
        foreach ($ways as $way) {
            foreach ($this->case->board === null ? [$way] : [$way, array_reverse($way)] as $one) {
                $plan = $this->plan($places, $one, $turned);
                if ($plan === null) {
                    continue;
                }
                $sound = true;
                $n = $this->n;
                $score =
                    self::KIND * $plan->distinct +
                    self::ACROSS * (1 - min(1.0, $plan->leastAcross() / $this->parallel)) +
                    (self::LINK * $plan->linkMm) / $n +
                    (self::EMPTY * $plan->empty) / max(1, $n) +
                    self::SQUARE * abs(log(max(1.0, $plan->widthMm) / max(1.0, $plan->heightMm))) +
                    ($places->packing === 'offset' ? self::OFFSET : 0.0) +
                    ($turned ? self::TURNED : 0.0) +
                    self::LEAD * array_sum($this->leadsOf($plan));
                if ($score < $this->score - Tiny::SLACK && $this->reaches($plan)) {
                    [$this->best, $this->score] = [$plan, $score];
                }
            }
        }

        return $sound;
    }

    /** @return array{minus: float, plus: float} millimetres that both main leads want; nothing without a board */
    private function leadsOf(LayoutPlan $plan): array
    {
        $board = $this->case->board;
        if ($board === null || $plan->leads === null) {
            return ['minus' => 0.0, 'plus' => 0.0];
        }

        return [
            'minus' => $plan->leadMm($board, 0, $plan->leads['minus']),
            'plus' => $plan->leadMm($board, $plan->series, $plan->leads['plus']),
        ];
    }

    private function reaches(LayoutPlan $plan): bool
    {
        $want = $this->leadsOf($plan);
        if ($want['minus'] <= ($this->case->board->minusMm ?? INF) && $want['plus'] <= ($this->case->board->plusMm ?? INF)) {
            return true;
        }
        if ($this->tooShort === null || array_sum($want) < array_sum($this->tooShort)) {
            $this->tooShort = $want;
        }

        return false;
    }

    /**
     * @param  list<int>  $way
     * @return LayoutPlan|null null where a strip does not hang together
     */
    private function plan(Places $places, array $way, bool $turned): ?LayoutPlan
    {
        $cells = [];
        foreach ($way as $k => $i) {
            $p = $places->at[$i];
            $group = intdiv($k, $this->parallel) + 1;
            $cells[] = [
                'x' => $turned ? $p['y'] : $p['x'],
                'y' => $turned ? $p['x'] : $p['y'],
                'group' => $group,
                'up' => $group % 2 === 1,
                'column' => $p['column'],
                'row' => $p['row'],
                'layer' => $p['layer'],
            ];
        }
        [$strips, $mm, $distinct] = $this->strips($places, $way, $cells);
        foreach ($strips as $s) {
            if (!self::hangsTogether($s['cells'], $s['edges'])) {
                return null;
            }
        }
        $flat = $places->packing === 'stack';
        $plan = new LayoutPlan(
            $this->series,
            $this->parallel,
            $places->packing,
            $places->shape,
            $places->columns,
            $places->lines,
            round($turned ? $places->height : $places->width, 1),
            round($turned ? $places->width : $places->height, 1),
            $flat ? $this->diameter : $places->depth,
            $this->diameter,
            $cells,
            $strips,
            $mm,
            $distinct,
            count($places->at) - $this->n,
            null,
            $this->case->board,
            $places->shape === 'two-layers' ? round($places->width / 2, 2) : null,
            $places->folded === null
                ? null
                : array_map(fn(float $mm): float => round($mm, 1), $turned ? array_reverse($places->folded) : $places->folded),
        );

        return $this->case->board === null ? $plan : $this->withLeads($plan, $this->case->board);
    }

    /**
     * @param  list<int>  $cells
     * @param  list<array{int, int}>  $edges
     */
    private static function hangsTogether(array $cells, array $edges): bool
    {
        $next = [];
        foreach ($edges as [$a, $b]) {
            $next[$a][] = $b;
            $next[$b][] = $a;
        }
        $seen = [$cells[0] => true];
        for ($queue = [$cells[0]]; $queue !== []; ) {
            foreach ($next[array_pop($queue)] ?? [] as $j) {
                if (!isset($seen[$j])) {
                    $seen[$j] = true;
                    $queue[] = $j;
                }
            }
        }

        return count($seen) === count($cells);
    }

    /** Leads where they are shortest. */
    private function withLeads(LayoutPlan $plan, BoardEnd $board): LayoutPlan
    {
        return $plan->withLeads([
            'minus' => self::nearest($plan, $board, 0),
            'plus' => self::nearest($plan, $board, $plan->series),
        ]);
    }

    private static function nearest(LayoutPlan $plan, BoardEnd $board, int $node): int
    {
        $cells = $plan->strips[$node]['cells'];
        $best = $cells[0];
        foreach ($cells as $i) {
            if ($plan->leadMm($board, $node, $i) < $plan->leadMm($board, $node, $best) - Tiny::SUM) {
                $best = $i;
            }
        }

        return $best;
    }

    /** @return list<int> rows worth trying */
    private function heights(int $n, int $left): array
    {
        $p = $this->parallel;
        $limited = $this->case->width !== null || $this->case->height !== null;
        $out = [];
        for (
            $r = 1, $most = $limited ? $n + $left : max(self::GROUPS_HIGH * $p, (int) ceil(self::HIGHER * sqrt($n + $left)));
            $r <= $most;
            $r++
        ) {
            $out[] = $r;
        }
        // Groups as whole columns first, and what divides them.
        usort(
            $out,
            fn(int $a, int $b): int => [$a !== $p, $p % $a !== 0 && $a % $p !== 0, $a] <=> [$b !== $p, $p % $b !== 0 && $b % $p !== 0, $b],
        );

        return $out;
    }

    /**
     * @param  list<int>  $way
     * @param  list<array{x: float, y: float, group: int, up: bool, column: int, row: int, layer: int}>  $cells
     * @return array{list<array{node: int, face: 'front'|'back', cells: list<int>, edges: list<array{int, int}>, across: int,
     *   shape: string}>, float, int}
     */
    private function strips(Places $places, array $way, array $cells): array
    {
        $members = [];
        foreach ($cells as $i => $c) {
            // A cell's positive belongs to the node over its group, its negative to the one under it.
            $members[$c['group']][] = $i;
            $members[$c['group'] - 1][] = $i;
        }
        $number = array_flip($way);
        $strips = [];
        $mm = 0.0;
        $shapes = [];
        for ($node = 0; $node <= $this->series; $node++) {
            $in = array_flip($members[$node]);
            $edges = [];
            $across = 0;
            foreach ($members[$node] as $i) {
                foreach ($places->near[$way[$i]] as $near) {
                    $j = $number[$near] ?? -1;
                    if ($j > $i && isset($in[$j])) {
                        $edges[] = [$i, $j];
                        $across += $cells[$i]['group'] !== $cells[$j]['group'] ? 1 : 0;
                        $mm += hypot($cells[$j]['x'] - $cells[$i]['x'], $cells[$j]['y'] - $cells[$i]['y']);
                    }
                }
            }
            $shape = self::shape($cells, $members[$node]);
            $shapes[$shape] = true;
            // Group 1 has its positive in front: node 0 is at the back, node 1 in front, and so on.
            /** @var 'front'|'back' $face */
            $face = $node % 2 === 1 ? 'front' : 'back';
            $strips[] = [
                'node' => $node,
                'face' => $face,
                'cells' => $members[$node],
                'edges' => $edges,
                'across' => $across,
                'shape' => $shape,
            ];
        }

        return [$strips, $mm, count($shapes)];
    }

    /**
     * The outline of a strip whichever way it is turned: the same name for the same piece.
     *
     * @param  list<array{x: float, y: float, group: int, up: bool, column: int, row: int, layer: int}>  $cells
     * @param  list<int>  $members
     */
    private static function shape(array $cells, array $members): string
    {
        $best = null;
        foreach ([[1, 0, 0, 1], [-1, 0, 0, 1], [1, 0, 0, -1], [-1, 0, 0, -1]] as [$a, $b, $c, $d]) {
            $points = array_map(
                fn(int $i): array => [$a * $cells[$i]['x'] + $b * $cells[$i]['y'], $c * $cells[$i]['x'] + $d * $cells[$i]['y']],
                $members,
            );
            if ($points === []) {
                return '';
            }
            $x = min(array_column($points, 0));
            $y = min(array_column($points, 1));
            $names = array_map(fn(array $p): string => sprintf('%.1f,%.1f', $p[0] - $x, $p[1] - $y), $points);
            sort($names);
            $name = implode(' ', $names);
            $best = $best === null || strcmp($name, $best) < 0 ? $name : $best;
        }

        return substr(md5((string) $best), 0, 8);
    }

    private function field(): string
    {
        return match (true) {
            $this->tooShort !== null => '/board/side',
            $this->case->shape === 'round' => '/case_diameter_mm',
            $this->case->shape === 'stairs' => '/case_rows',
            $this->case->shape === 'two-layers' && $this->case->width === null && $this->case->height === null => $this->case->depth ===
            null
                ? '/shape'
                : '/max_depth_mm',
            $this->case->shape === 'box' && $this->case->left !== [] => '/left_out',
            default => '/max_width_mm',
        };
    }

    private function why(): string
    {
        $board = $this->case->board;
        if ($this->tooShort !== null && $board !== null) {
            $says = fn(string $name, float $want, ?float $has): ?string => $has !== null && $want > $has
                ? sprintf('%s wants %.0f mm and has %.0f', $name, $want, $has)
                : null;
            $short = array_filter([
                $says('the lead of B-', $this->tooShort['minus'], $board->minusMm),
                $says('the lead of B+', $this->tooShort['plus'], $board->plusMm),
            ]);

            return sprintf('In no way do both leads reach a board at the %s; at best %s.', $board->side, implode(', ', $short));
        }
        $n = $this->n;
        $d = $this->diameter;
        switch ($this->case->shape) {
            case 'round':
                $need = Places::round($n, $d, $this->length, null);

                return sprintf(
                    '%d cells do not fit a round case of %.0f mm; %.1f mm inside would do.',
                    $n,
                    (float) $this->case->round,
                    ceil(10 * min([INF, ...array_map(fn(Places $p): float => $p->width, $need)]) - Tiny::SUM) / 10,
                );
            case 'stairs':
                $have = array_sum(array_column($this->case->rows, 1));

                return $have < $n
                    ? sprintf('These rows hold %d cells, and %d are wanted.', $have, $n)
                    : sprintf(
                        'No run of %d cells, group by group, passes through these rows%s: move a row so that it touches its neighbour.',
                        $n,
                        $this->case->width !== null || $this->case->height !== null ? ' in this case' : '',
                    );
            case 'two-layers':
                if ($this->series < 2) {
                    return 'One group lies in one layer: two layers fold between two groups.';
                }
                break;
        }
        if ($this->case->left !== [] && $this->case->shape === 'box') {
            return sprintf(
                'No run of %d cells passes round the places left empty (%s) in this case: leave out places at the end of ' .
                    'a column, or give it more room.',
                $n,
                implode('; ', array_map(fn(array $p): string => "$p[0] $p[1]", $this->case->left)),
            );
        }
        $half = $this->case->shape === 'two-layers' ? (int) ceil($this->series / 2) * $this->parallel : $n;
        $side = max(1, (int) floor(sqrt($half)));
        if ($this->case->shape === 'rows') {
            $places = Places::stack((int) ceil($n / max(1, $this->case->stackRows)), max(1, $this->case->stackRows), $d, $this->length);
            [$w, $h] = [$places->width, $places->height];
        } else {
            [$w, $h] = Places::size((int) ceil($half / $side), $side, $d, 'square');
        }

        return sprintf(
            '%d cells do not fit %s x %s mm%s in any way; about %.0f x %.0f mm would do.',
            $n,
            $this->case->width ?? 'any',
            $this->case->height ?? 'any',
            $this->case->depth === null ? '' : " and {$this->case->depth} mm of depth",
            $w,
            $h,
        );
    }
}
