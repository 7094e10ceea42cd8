<?php

declare(strict_types=1);

use Heartwood\Core\Batch\Answer;
use Heartwood\Core\Batch\Donor;
use Heartwood\Core\Batch\LotFacts;
use Heartwood\Core\Batch\OddOnes;
use Heartwood\Core\Batch\Today;
use Heartwood\Core\Batch\Wants;
use Heartwood\Core\Limits\BatchLimits;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Safety\SafetyState;

// What is begun of a lot, held against what no plan may do; its donors; how its groups answered a recovery.

function lotPack(): PackSpec
{
    return PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 4, 'parallel' => 2, 'cell' => ['capacity_ah' => 3.0]]));
}

/** @return array<int, Wants> a lot as chance has it, by pack */
function anyLot(Random\Randomizer $dice, int $n): array
{
    $actions = [null, 'recover-group', 'recover-pack', 'balance', 'charge-group', 'replace-group', 'donor', 'clean-joint', 'none'];
    $out = [];
    for ($p = 1; $p <= $n; $p++) {
        $action = $actions[$dice->getInt(0, count($actions) - 1)];
        $out[$p] = Wants::of(
            lotPack(),
            ['open', 'open', 'open', 'returned', 'scrapped'][$dice->getInt(0, 4)],
            ['probe', 'verdict', 'plan', 'work', 'proof', 'report'][$dice->getInt(0, 5)],
            [SafetyState::Clear, SafetyState::Clear, SafetyState::Clear, SafetyState::Hold, SafetyState::Quarantine][$dice->getInt(0, 4)],
            $dice->getInt(0, 4) === 0 ? 'Hold test' : null,
            $dice->getInt(0, 6) === 0,
            $dice->getInt(0, 2) === 0 ? null : $dice->getInt(20, 168) / 10,
            $action === null ? null : ['action' => $action, 'minutes' => $dice->getInt(5, 120), 'hours' => $dice->getInt(0, 60) / 10],
        );
    }

    return $out;
}

it('never plans what hands, supplies, places or the hours do not allow, whatever the lot', function (): void {
    $dice = new Random\Randomizer(new Random\Engine\Mt19937(1726));
    $begun = 0;
    for ($case = 0; $case < 600; $case++) {
        $packs = anyLot($dice, $dice->getInt(0, 40));
        $last = array_values(array_filter(array_keys($packs), fn(): bool => $dice->getInt(0, 5) === 0));
        [$supplies, $places, $hours] = [$dice->getInt(0, 5), $dice->getInt(0, 6), $dice->getInt(1, 40) / 4];
        $today = Today::of($packs, $last, $supplies, $places, $hours);
        $budget = (int) round(60 * $hours);
        $hands = array_sum(array_map(fn(array $b): int => $packs[$b['pack']]->minutes, $today->begun));
        expect($hands)->toBe($today->handsMin)->and($hands)->toBeLessThanOrEqual($budget);
        $rests = 0;
        $used = [];
        foreach ($today->begun as $b) {
            $w = $packs[$b['pack']];
            // Only what stands still and is clear, and once.
            expect(in_array($w->lane, ['probe', 'decide', 'work', 'proof', 'back'], true))->toBeTrue();
            expect($b['from_min'])->toBeGreaterThanOrEqual(0)->and($b['to_min'])->toBeLessThanOrEqual($budget);
            expect($b['supply'] === null)->toBe($w->hours <= 0.0);
            if ($b['supply'] !== null) {
                expect($b['supply'])->toBeGreaterThanOrEqual(1)->toBeLessThanOrEqual($supplies);
                $current = [$b['from_min'] + $w->minutes, $b['to_min']];
                foreach ($used[$b['supply']] ?? [] as [$from, $to]) {
                    expect($current[0] >= $to || $current[1] <= $from)->toBeTrue('two at once on one supply');
                }
                $used[$b['supply']][] = $current;
                $whole = $b['to_min'] - $b['from_min'] - $w->minutes >= $b['needs_min'];
                expect($whole || $b['to_min'] - $b['from_min'] - $w->minutes >= BatchLimits::SITTING_MIN)->toBeTrue('too short a sitting');
                // What ends today and rests afterwards has its place.
                $rests += $w->shelf && $whole ? 1 : 0;
            }
        }
        expect($today->placesLeft)
            ->toBe($places - $rests)
            ->and($rests)
            ->toBeLessThanOrEqual($places);
        // Each that could be begun is begun, or it is said why not.
        $asked = array_keys(array_filter($packs, fn(Wants $w): bool => !in_array($w->lane, ['held', 'shelf', 'supply', 'done'], true)));
        $said = [...array_column($today->begun, 'pack'), ...array_keys($today->left)];
        sort($said);
        expect($said)->toBe($asked);
        $begun += count($today->begun);
    }
    expect($begun)->toBeGreaterThan(1000);
});

it('begins a questionable pack after the others that want the same', function (): void {
    $probe = Wants::of(lotPack(), 'open', 'probe', SafetyState::Clear, null, false, null, null);
    $today = Today::of([1 => $probe, 2 => $probe, 3 => $probe], [1, 2], 0, 0, 2.0);
    expect(array_column($today->begun, 'pack'))->toBe([3, 1, 2]);
});

it('takes of a donor what the verdict calls sound, inside its window, and says that it is tested first', function (): void {
    $pack = lotPack();
    $of = fn(array $volts, array $states = []): Donor => Donor::of($pack, $volts, $states);
    expect([$of([0.2, 3.6, 3.6, 0.1])->groups, $of([0.2, 3.6, 3.6, 0.1])->cells])
        ->toBe([[2, 3], 4])
        ->and($of([3.6, 3.6, 3.6, 3.6], ['group.ok', 'group.low-capacity', 'group.self-discharge', 'group.undercharged'])->groups)
        ->toBe([1, 4])
        ->and($of([null, $pack->lowCutV(), $pack->lowCutV() - 0.001, $pack->profile()->fullV + 0.001])->groups)
        ->toBe([2])
        ->and($of([0.1, null, 0.2, 0.0])->text())
        ->toBe('no group of it is inside its window: none to take')
        ->and($of([3.6, 0.1, 0.1, 0.1])->text())
        ->toBe('group 1 inside its window, 2 cells: tested before any is used')
        ->and($of([3.6, 3.6, 0.1, 0.1])->text())
        ->toBe('groups 1, 2 inside their window, 4 cells: tested before any is used')
        ->and($of([])->groups)
        ->toBe([]);
    $unknown = PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 2]));
    expect(Donor::of($unknown, [3.6, 3.6], [])->cells)->toBeNull();
});

it('reads how a group answered: volts risen by an amp-hour, and how much it warmed', function (): void {
    $sample = fn(float $min, float $v, ?float $a, ?float $c = null): array => ['min' => $min, 'v' => $v, 'a' => $a, 'c' => $c];
    // Half an amp for an hour: half an amp-hour, and 0.4 V.
    $answer = Answer::of(
        [$sample(0, 2.2, 0.5, 21.0), $sample(30, 2.5, 0.5, 24.5), $sample(60, 2.6, 0.5, 23.0), $sample(90, 2.55, 0.0)],
        20.0,
    );
    expect([$answer->rise, $answer->warmK])
        ->toEqual([0.8, 4.5])
        // The rest after it is no part of the rise, nor what nobody read.
        ->and(Answer::of([$sample(0, 2.2, null), $sample(60, 2.6, null)], 20.0)->rise)
        ->toBeNull()
        ->and(Answer::of([$sample(0, 2.2, 0.5), $sample(0.05, 2.3, 0.5)], 20.0)->rise)
        ->toBeNull()
        ->and(Answer::of([$sample(0, 2.2, 0.5), $sample(60, 2.6, 0.5)], null)->warmK)
        ->toBeNull()
        ->and(Answer::of([$sample(0, 2.2, 0.5, 25.0)], null)->warmK)
        ->toBeNull()
        ->and([Answer::of([], 20.0)->rise, Answer::of(['x', ['min' => 'y']], 20.0)->warmK])
        ->toBe([null, null]);
});

it('marks the slowest and the warmest of a lot by those figures', function (): void {
    $facts = [];
    for ($p = 1; $p <= 8; $p++) {
        $facts[$p] = new LotFacts(rise: 0.8 + 0.01 * ($p % 3), warmK: 3.0 + 0.1 * ($p % 2));
    }
    $facts[4] = new LotFacts(rise: 0.3, warmK: 3.0);
    $facts[6] = new LotFacts(rise: 0.8, warmK: 9.0);
    // Faster and cooler is no question.
    $facts[7] = new LotFacts(rise: 2.0, warmK: 0.1);
    $odd = OddOnes::of($facts);
    expect(array_keys($odd))
        ->toBe([4, 6])
        ->and($odd[4][0]->text())
        ->toBe('rose by an amp-hour 300 mV, the others 815 mV')
        ->and($odd[6][0]->text())
        ->toBe('warmed by 9.0 K, the others 3.0 K');
});
