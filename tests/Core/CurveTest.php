<?php

declare(strict_types=1);

use Heartwood\Core\Run\Curve;

/** @return array{t: float, v: float|null, a: float|null, c: float|null, low: float|null, high: float|null} */
function point(float $t, ?float $v): array
{
    return ['t' => $t, 'v' => $v, 'a' => 0.1, 'c' => 21.0, 'low' => null, 'high' => null];
}

it('gives back each sample of a short run', function (): void {
    $curve = new Curve();
    foreach ([3.0, 2.9, 3.1] as $t => $v) {
        $curve->take(point((float) $t, $v));
    }
    expect(array_column($curve->points(), 'v'))
        ->toBe([3.0, 2.9, 3.1])
        ->and($curve->every())
        ->toBe(1);
});

it('takes up no more room after a day than after an hour, and still shows a dip and a peak of one sample', function (
    int $n,
    int $dip,
    int $peak,
): void {
    $curve = new Curve();
    for ($i = 0; $i < $n; $i++) {
        $curve->take(
            point(
                $i * 0.25,
                match ($i) {
                    $dip => 1.0,
                    $peak => 4.9,
                    default => 3.0 + $i / $n,
                },
            ),
        );
    }
    $points = $curve->points();
    $t = array_column($points, 't');
    $sorted = $t;
    sort($sorted);
    expect(count($points))
        ->toBeGreaterThan(150)
        ->toBeLessThanOrEqual(600)
        ->and($t)
        ->toBe($sorted)
        ->and(count(array_unique($t)))
        ->toBe(count($t))
        ->and(min(array_column($points, 'v')))
        ->toBe(1.0)
        ->and(max(array_column($points, 'v')))
        ->toBe(4.9)
        ->and(end($points)['t'])
        ->toBeGreaterThan(($n - 1 - $curve->every()) * 0.25 - 1e-9)
        ->and($points[0]['t'])
        ->toBeLessThan($curve->every() * 0.25);
})->with([[72_000, 40_123, 5], [72_000, 71_999, 0], [14_400, 300, 299], [100_001, 1, 100_000]]);

it('holds one stretch fewer than its most, and halves at its most', function (): void {
    $curve = new Curve();
    for ($i = 0; $i < 299; $i++) {
        $curve->take(point((float) $i, 3.0 + $i));
    }
    expect([$curve->every(), count($curve->points())])->toBe([1, 299]);
    $curve->take(point(1000.0, 2.0));
    expect([$curve->every(), count($curve->points())])->toBe([2, 300]);
    expect(array_column($curve->points(), 't')[299])->toBe(1000.0);
});

it('shows that nothing was read where nothing was, and what was read beside it', function (): void {
    $curve = new Curve();
    for ($i = 0; $i < 600; $i++) {
        $curve->take(point((float) $i, $i < 100 || $i % 7 !== 0 ? null : 3.3));
    }
    $v = array_column($curve->points(), 'v');
    expect($v[0])->toBeNull()->and($v)->toContain(3.3)->and(count(array_filter($v, is_float(...))))->toBeGreaterThan(50);
});
