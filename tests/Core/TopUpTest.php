<?php

declare(strict_types=1);

use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Diagnosis\UsableWindow;
use Heartwood\Core\Limits\DriftLimits;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Repair\Option;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;
use Heartwood\Core\Repair\TopUp;
use Tests\Core\Bench;

/**
 * A pack of four groups, of which the third falls a day faster than the others.
 *
 * @param  list<float>  $falls  volts that group 3 has fallen at each later reading
 * @param  array<string, mixed>  $more  of the record
 */
function leakingRecord(array $falls, float $everyDays, array $more = []): array
{
    $sets = [Bench::rest('m0', [3.9, 3.9, 3.9, 3.9])];
    foreach ($falls as $i => $fall) {
        $at = (new DateTimeImmutable('2026-05-04T09:00:00Z'))->modify('+' . (int) round(($i + 1) * $everyDays * 24) . ' hours');
        $sets[] = Bench::rest('m' . ($i + 1), [3.9, 3.9, 3.9 - $fall, 3.9], at: $at->format('Y-m-d\TH:i:s\Z'));
    }

    return ['measurements' => $sets] + Bench::record([3.9, 3.9, 3.9, 3.9], more: $more);
}

/** @param  list<Finding>  $findings */
function topUpOf(array $record, array $findings = []): TopUp|string
{
    $evidence = new PackEvidence(Bench::parse($record));

    return TopUp::of(new RepairCase($evidence->record->pack, $evidence, UsableWindow::of($evidence), $findings), 3);
}

function topUpFinding(string $code, float $probability): Finding
{
    return new Finding($code, $code, Place::group(3), $probability, Severity::Watch, []);
}

it('tops a leaking group up before the pack gives noticeably less, by the leak at its worst', function (): void {
    $topUp = topUpOf(leakingRecord([0.02], 14));
    expect($topUp)->toBeInstanceOf(TopUp::class);
    // All groups hold alike: what it may lose is the share alone, and time is charge over leak.
    $rate = $topUp->leakAMonth / TopUp::MONTH_D;
    $sigma = $topUp->leakSigmaAMonth / TopUp::MONTH_D;
    expect($topUp->toLoseAh)
        ->toEqualWithDelta(DriftLimits::TOPUP_LOSS * 8.4, 1e-9)
        ->and($topUp->likelyDays)
        ->toEqualWithDelta(0.05 / $rate, 1e-6)
        ->and($topUp->sigmaDays)
        ->toEqualWithDelta(((0.05 / $rate) * $sigma) / $rate, 1e-6)
        ->and($topUp->days)
        ->toEqualWithDelta(0.05 / ($rate + 2 * $sigma), 1e-6)
        ->and($topUp->every())
        ->toBe((int) floor($topUp->days))
        ->and($topUp->days)
        ->toBeLessThan($topUp->likelyDays)
        ->and($topUp->sentence())
        ->toContain("Top it up every {$topUp->every()} days")
        ->toContain('attended');
});

it('gives a group that holds more than the others that much longer', function (): void {
    $record = leakingRecord([0.02], 14);
    $even = topUpOf($record);
    $record['tests'] = array_map(
        fn(int $k): array => ['kind' => 'capacity', 'scope' => ['group' => $k], 'measured_ah' => $k === 3 ? 8.4 : 8.0],
        [1, 2, 3, 4],
    );
    $ampler = topUpOf($record);
    expect($ampler)
        ->toBeInstanceOf(TopUp::class)
        ->and($ampler->toLoseAh)
        ->toEqualWithDelta(0.4 + 0.05 * 8.0, 1e-6);
    expect($ampler->likelyDays)->toBeGreaterThan(1.5 * $even->likelyDays);
});

it('keeps no group in service that may lose over a third of its charge a month', function (): void {
    $kept = $refused = null;
    for ($mv = 5; $mv < 150; $mv++) {
        $topUp = topUpOf(leakingRecord([$mv / 1000], 14));
        if (is_string($topUp)) {
            $refused = $topUp;
            break;
        }
        $kept = $topUp;
    }
    // The last that was kept lies just under 30 % at its worst.
    expect($kept->leakAMonth + 2 * $kept->leakSigmaAMonth)
        ->toBeGreaterThan(0.28)
        ->toBeLessThanOrEqual(0.3)
        ->and($refused)
        ->toContain('over 30 %');
});

it('says why a group is never kept in service', function (array $record, array $findings, string $why): void {
    expect(topUpOf($record, $findings))->toBe($why);
})->with(function (): array {
    $leaks = leakingRecord([0.02], 14);
    $said = fn(string $symptom): array => ['symptoms' => [$symptom]] + $leaks;
    $seen = fn(string $look): array => ['inspection' => [$look => true]] + $leaks;

    return [
        'read once' => [Bench::record([3.9, 3.9, 3.85, 3.9]), [], 'how fast it leaks is not known: read it at rest twice, days apart'],
        'grown' => [leakingRecord([0.006, 0.05], 14), [], 'its leak grew from one measurement to the next'],
        'warm' => [$said('hot'), [], 'it gets warm'],
        'warm on charge' => [$said('hot-on-charge'), [], 'it gets warm on charge'],
        'warm in use' => [$said('hot-in-use'), [], 'it gets warm in use'],
        'short-circuited' => [$said('short-circuited'), [], 'it was short-circuited'],
        'water, said' => [$said('wet'), [], 'water was in it'],
        'swelling, said' => [$said('swelling'), [], 'it swells'],
        'warm at rest' => [$seen('warm_at_rest'), [], 'it is warm with no current'],
        'wet, seen' => [$seen('wet'), [], 'water was in it'],
        'salt water' => [$seen('salt_water'), [], 'water was in it'],
        'swollen' => [$seen('swollen'), [], 'it is swollen'],
        'a hot cell' => [$leaks, [topUpFinding('cell.hot', 0.2)], 'a cell gets warm'],
        'deep-discharged' => [$leaks, [topUpFinding('group.deep-discharged', 0.2)], 'it was deep-discharged'],
        'the pack deep-discharged' => [$leaks, [topUpFinding('pack.deep-discharged', 0.25)], 'it was deep-discharged'],
        'a swollen cell' => [$leaks, [topUpFinding('cell.swollen', 0.3)], 'a cell is swollen'],
        'a short' => [$leaks, [topUpFinding('load.shorted', 0.3)], 'its load is shorted'],
        'perhaps dead' => [$leaks, [topUpFinding('group.dead', 0.3)], 'it rests under its low cut, or may be dead'],
        'nobody knows what it holds' => [
            ['pack' => ['chemistry' => 'nmc', 'series' => 4]] + $leaks,
            [],
            'what its groups hold is not known',
        ],
    ];
});

it('minds what is found from one in five on', function (): void {
    expect(topUpOf(leakingRecord([0.02], 14), [topUpFinding('cell.hot', 0.19)]))->toBeInstanceOf(TopUp::class);
});

it('offers a top-up with its interval, or the reason for none beside the replacement', function (): void {
    $offered = fn(array $record): array => array_column(
        array_map(fn(Option $o): array => [$o->action->value, $o], Diagnoser::diagnose(Bench::parse($record))->options),
        1,
        0,
    );
    $kept = $offered(leakingRecord([0.03], 14));
    expect($kept)->toHaveKey(RepairAction::KeepWithTopup->value);
    $option = $kept[RepairAction::KeepWithTopup->value];
    expect($option->topUps)->toHaveCount(1)->and($option->why)->toContain('group 3')->toContain('every');
    $detail = Diagnoser::diagnose(Bench::parse(leakingRecord([0.03], 14)))->detail()['options'];
    $told = array_merge(...array_column($detail, 'topups'));
    expect($told)
        ->toHaveCount(1)
        ->and($told[0]['group'])
        ->toBe(3)
        ->and($told[0]['every_days'])
        ->toBe($option->topUps[0]->every());

    $hot = $offered(leakingRecord([0.03], 14, ['symptoms' => ['hot-in-use']]));
    expect($hot)
        ->not->toHaveKey(RepairAction::KeepWithTopup->value)
        ->and($hot[RepairAction::ReplaceGroup->value]->why)
        ->toContain('not kept with a top-up: it gets warm in use');
});
