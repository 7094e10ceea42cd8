<?php

declare(strict_types=1);

use Heartwood\Core\Build\CellFormat;
use Heartwood\Core\Build\Joint;
use Heartwood\Core\Cell\CannotMatch;
use Heartwood\Core\Cell\Deal;
use Heartwood\Core\Cell\DrawerCell;
use Heartwood\Core\Cell\GradeRules;
use Heartwood\Core\Cell\Refill;
use Heartwood\Core\Cell\TrayFile;
use Heartwood\Core\Log\SeriesChunk;
use Heartwood\Core\Log\Stretch;

// Cells as lines of a sheet, deals laid by hand or refilled, logs as they are drawn, joints as they are set.

/** @return array<string, string> a line of the sheet that can be read */
function line(array $more = []): array
{
    return $more + ['lot' => 'L1', 'model' => 'QX-1', 'chemistry' => 'nmc', 'rated_ah' => '3.0', 'code' => '', 'capacity_ah' => ''];
}

it('reads lines into a tray of each lot, model and rating', function (): void {
    $file = TrayFile::of([
        line(['code' => 'A1', 'capacity_ah' => ' 2.91 ', 'mohm' => '30']),
        line(['code' => 'A2', 'damaged' => 'yes', 'origin' => 'salvaged']),
        line(['lot' => 'L2']),
        line(['rated_ah' => '3.1']),
    ]);
    expect($file->errors)
        ->toBe([])
        ->and(array_map(fn(array $t): array => [$t['lot'], $t['rated_ah'], count($t['cells'])], $file->trays))
        ->toBe([['L1', 3.0, 2], ['L2', 3.0, 1], ['L1', 3.1, 1]])
        ->and($file->trays[0]['cells'])
        ->toBe([
            ['code' => 'A1', 'origin' => 'new', 'damaged' => false, 'capacity_ah' => 2.91, 'mohm' => 30.0],
            ['code' => 'A2', 'origin' => 'salvaged', 'damaged' => true],
        ]);
});

it('names the row that cannot be read, and takes the others no further', function (array $bad, string $says): void {
    $file = TrayFile::of([line(), line($bad)]);
    expect($file->errors)->toHaveKey('row 3')->and($file->errors['row 3'])->toContain($says);
})->with([
    'no lot' => [['lot' => ' '], 'must be filled'],
    'no model' => [['model' => ''], 'must be filled'],
    'a chemistry that is none' => [['chemistry' => 'lead'], 'must be filled'],
    'no rating' => [['rated_ah' => 'three'], 'must be filled'],
    'words for a number' => [['capacity_ah' => 'much'], 'capacity_ah is no number: much'],
]);

it('says which columns are missing', function (): void {
    expect(TrayFile::missing(['code', 'lot', 'rated_ah']))
        ->toBe(['model', 'chemistry'])
        ->and(TrayFile::missing(TrayFile::NEEDED))
        ->toBe([]);
});

/** @return array<string, DrawerCell> */
function trayOf(float ...$ah): array
{
    $out = [];
    foreach ($ah as $k => $c) {
        $out["C$k"] = new DrawerCell("C$k", $c, 30.0 + $k);
    }

    return $out;
}

it('judges a deal laid by hand against the best that the drawer holds', function (): void {
    $deal = Deal::byHand([['C0', 'C3'], ['C1', 'C2']], trayOf(3.0, 2.9, 2.8, 2.7, 2.0), 2, 2);
    expect($deal->totals)
        ->toEqualWithDelta([5.7, 5.7], 1e-9)
        ->and($deal->bound)
        ->toEqualWithDelta(5.7, 1e-9)
        ->and($deal->gap)
        ->toEqualWithDelta(0.0, 1e-9)
        ->and(array_map(fn(DrawerCell $c): string => $c->id, $deal->spares))
        ->toBe(['C4'])
        ->and(fn() => Deal::byHand([['C0', 'C9']], trayOf(3.0), 1, 2))
        ->toThrow(CannotMatch::class, 'C9');
});

it('refills a group to what the whole ones have, and leaves them as they are', function (): void {
    $c = trayOf(3.0, 2.9, 2.95, 2.96, 2.5, 2.94);
    $deal = Refill::deal([[$c['C0'], $c['C1']], [$c['C3']]], 2, [$c['C2'], $c['C4'], $c['C5']], 1.3);
    expect(array_map(fn(array $g): array => array_map(fn(DrawerCell $x): string => $x->id, $g), $deal->groups))
        ->toBe([['C0', 'C1'], ['C3', 'C5']])
        ->and($deal->way)
        ->toBe('refilled')
        ->and(array_map(fn(DrawerCell $x): string => $x->id, $deal->spares))
        ->toBe(['C2', 'C4'])
        ->and(fn() => Refill::deal([[$c['C0']], []], 2, [$c['C2']], 1.3))
        ->toThrow(CannotMatch::class, 'what its own hold is not known');
});

it('replaces one group of a pack that keeps its own cells, near to what they hold', function (): void {
    $cell = fn(string $id, float $ah): DrawerCell => new DrawerCell($id, $ah, 30.0);
    $drawer = [$cell('a', 2.4), $cell('b', 2.5), $cell('c', 2.6), $cell('d', 3.0)];
    $deal = Refill::deal([[], [], []], 2, $drawer, 1.3, 5.0, [2]);
    expect(array_map(fn(array $g): array => array_map(fn(DrawerCell $c): string => $c->id, $g), $deal->groups))
        ->toEqualCanonicalizing([[], ['a', 'c'], []])
        ->and($deal->least())
        ->toEqualWithDelta(5.0, 1e-9)
        ->and($deal->gap)
        ->toBe(0.0)
        ->and(array_column($deal->toArray()['groups'], 'group'))
        ->toBe([2]);
    // By hand the others keep theirs too; of a new build a group without cells holds nothing.
    $of = ['a' => $drawer[0], 'b' => $drawer[1], 'c' => $drawer[2], 'd' => $drawer[3]];
    expect(Deal::byHand([[], ['c', 'd'], []], $of, 3, 2, true)->least())
        ->toEqualWithDelta(5.6, 1e-9)
        ->and(Deal::byHand([[], ['c', 'd'], []], $of, 3, 2)->least())
        ->toBe(0.0)
        ->and(Deal::byHand([[], ['c', 'd'], []], $of, 3, 2)->toArray()['groups'][0]['mohm'])
        ->toBe(0.0);
});

it('draws a stretch by its rows while they are few, in no more points than asked, and loses no peak', function (): void {
    expect(Stretch::near(8192, 800))->toBeTrue()->and(Stretch::near(8193, 800))->toBeFalse()->and(Stretch::near(9000, 9000))->toBeTrue();
    $stretch = new Stretch();
    $v = array_map(fn(int $k): float => $k === 501 ? 9.9 : 3.7, range(0, 999));
    $stretch->rows(['t' => array_map(floatval(...), range(0, 999)), 'v' => $v, 'a' => array_fill(0, 1000, -1.0)]);
    $out = $stretch->thinned(100);
    expect(count($out['t']))
        ->toBe(100)
        ->and(max($out['v_max']))
        ->toBe(9.9)
        ->and($out['v_max'][50])
        ->toBe(9.9)
        ->and($out['v_min'][50])
        ->toBe(3.7)
        ->and($out['a_min'][0])
        ->toBe(-1.0)
        ->and((new Stretch())->thinned(10)['t'])
        ->toBe([]);
    $far = new Stretch();
    $far->levels(SeriesChunk::levels(SeriesChunk::pyramid([0.0, 1.0], [3.5, 3.9], [-2.0, 1.0])));
    expect($far->thinned(10))->toEqual(['t' => [0.0], 'v_min' => [3.5], 'v_max' => [3.9], 'a_min' => [-2.0], 'a_max' => [1.0]]);
});

it('sets a joint between its limits whatever the tool does, and to no torque that leaves them', function (
    float $min,
    float $max,
    float $tolerance,
    ?float $chosen,
    ?float $set,
): void {
    $set === null
        ? expect(fn() => Joint::set($min, $max, $tolerance, $chosen))->toThrow(DomainException::class)
        : expect(Joint::set($min, $max, $tolerance, $chosen))->toEqualWithDelta($set, 0.01);
})->with([
    'the middle' => [4.0, 6.0, 0.04, null, 4.97],
    'a chosen one, just inside' => [4.0, 6.0, 0.04, 4.17, 4.17],
    'just under' => [4.0, 6.0, 0.04, 4.16, null],
    'just inside, above' => [4.0, 6.0, 0.04, 5.76, 5.76],
    'just over' => [4.0, 6.0, 0.04, 5.78, null],
    'a tool too coarse' => [4.0, 4.2, 0.2, null, null],
]);

it('refuses limits that are none', function (): void {
    expect(fn() => Joint::set(0.0, 4.0, 0.04, null))->toThrow(InvalidArgumentException::class)->and(Joint::CHECK_AGAIN_DAYS)->toBe(7);
});

it('knows the size of a format, and takes the usual one where none is said', function (): void {
    expect(CellFormat::size('21700'))
        ->toBe([21.4, 70.0])
        ->and(CellFormat::size('26650'))
        ->toBe([26.3, 65.5])
        ->and(CellFormat::size('26700'))
        ->toBe([26.4, 70.0])
        ->and(CellFormat::size('14500'))
        ->toBe([14.3, 50.0])
        ->and(CellFormat::size(null))
        ->toBe([18.4, 65.0])
        ->and(CellFormat::size('pouch'))
        ->toBe([18.4, 65.0]);
});

it('grades each cell of a mixed tray by its own rating, and its resistance by its own model', function (): void {
    $cell = fn(string $id, float $ah, float $mohm, ?float $rated, string $model): DrawerCell => new DrawerCell(
        $id,
        $ah,
        $mohm,
        lot: 'MIXED',
        ratedAh: $rated,
        model: $model,
    );
    $graded = (new GradeRules(3.0))->grade([
        $cell('a', 2.41, 30, 3.0, 'QL-18'),
        $cell('b', 2.39, 31, 3.0, 'QL-18'),
        $cell('c', 1.61, 60, 2.0, 'QL-14'),
        $cell('d', 1.59, 61, 2.0, 'QL-14'),
        $cell('e', 2.41, 30, null, 'QL-18'),
        $cell('f', 1.7, 93, 2.0, 'QL-14'),
    ]);
    expect(array_map(fn(DrawerCell $c): string => $c->id, $graded['accepted']))
        ->toBe(['a', 'c', 'e'])
        ->and($graded['rejected']['b'])
        ->toBe('2.39 Ah, 2.40 Ah wanted')
        ->and($graded['rejected']['d'])
        ->toBe('1.59 Ah, 1.60 Ah wanted')
        ->and($graded['rejected']['f'])
        ->toContain('times its lot\'s 61');
});

it('reads a decimal comma in a sheet of cells, and no number with anything else in it', function (string $ah, ?float $read): void {
    $file = TrayFile::of([['lot' => 'A', 'model' => 'M', 'chemistry' => 'nmc', 'rated_ah' => '2,9', 'capacity_ah' => $ah]]);
    expect($file->errors === [] ? $file->trays[0]['cells'][0]['capacity_ah'] : null)->toBe($read);
    expect($read === null || $file->trays[0]['rated_ah'] === 2.9)->toBeTrue();
})->with([['2,81', 2.81], ['2.81', 2.81], ['1.234,5', null], ['2,8 Ah', null], ['2,,8', null]]);
