<?php

declare(strict_types=1);

use Heartwood\Core\Record\Fields;
use Heartwood\Core\Safety\SafetyState;
use Heartwood\Core\Safety\Triage;

/*
 * What several people see of one pack adds up, in whatever order it arrives.
 */

it('keeps every answer of everybody', function (): void {
    $known = Triage::merge(['metal_case' => true, 'notes' => 'as it came'], ['swollen' => true]);
    $known = Triage::merge($known, ['wet' => true, 'swollen' => false]);
    expect($known)->toEqual(['metal_case' => true, 'notes' => 'as it came', 'swollen' => true, 'wet' => true]);
});

it('takes back by a "no" only what holds nothing', function (string $key, bool $stays): void {
    expect(Triage::merge([$key => true], [$key => false])[$key])->toBe($stays);
})->with([
    'swollen' => ['swollen', true],
    'leaking' => ['leaking', true],
    'venting' => ['venting', true],
    'smell' => ['smell', true],
    'punctured' => ['punctured', true],
    'warm with no current' => ['warm_at_rest', true],
    'salt water' => ['salt_water', true],
    'crushed' => ['crushed', true],
    'burnt' => ['burnt', true],
    'wet' => ['wet', true],
    'a metal case' => ['metal_case', false],
]);

it('lets a "no" become a "yes", and nothing become either', function (): void {
    expect(Triage::merge(['swollen' => false], ['swollen' => true])['swollen'])
        ->toBeTrue()
        ->and(Triage::merge([], ['swollen' => false])['swollen'])
        ->toBeFalse()
        ->and(Triage::merge(['swollen' => true], [])['swollen'])
        ->toBeTrue();
});

it('comes to the same in any order', function (): void {
    mt_srand(5);
    $keys = ['swollen', 'leaking', 'wet', 'crushed', 'burnt', 'warm_at_rest'];
    for ($round = 0; $round < 60; $round++) {
        $said = array_map(fn(): array => [$keys[mt_rand(0, 5)] => mt_rand(0, 1) === 1], range(1, 6));
        $one = $two = [];
        foreach ($said as $answer) {
            $one = Triage::merge($one, $answer);
        }
        shuffle($said);
        foreach ($said as $answer) {
            $two = Triage::merge($two, $answer);
        }
        $state = fn(array $known): SafetyState => Triage::assess(new Fields($known), [], 20.0)->state;
        expect($state($one))
            ->toBe($state($two))
            ->and(array_keys(array_filter($one)))
            ->toEqualCanonicalizing(array_keys(array_filter($two)));
    }
});

it('adds symptoms up, and lets go only what holds nothing', function (): void {
    $all = Triage::mergeSymptoms(['low-range', 'swelling'], ['smell', 'low-range'], []);
    expect($all)
        ->toBe(['low-range', 'swelling', 'smell'])
        ->and(Triage::mergeSymptoms($all, [], ['low-range', 'swelling', 'smell']))
        ->toBe(['swelling', 'smell'])
        ->and(Triage::mergeSymptoms($all, ['low-range'], ['low-range']))
        ->toContain('low-range');
});
