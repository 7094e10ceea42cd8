<?php

declare(strict_types=1);

use Heartwood\Core\Diagnosis\ParallelPlan;
use Heartwood\Core\Diagnosis\Priors;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Reading\ProbePlanner;
use Heartwood\Core\Record\Instrument;
use Tests\Core\Bench;

it('keeps shares a distribution and moves them with counts, the handbook weighing forty jobs', function (): void {
    $sum = fn(Priors $p) => array_sum(array_map($p->share(...), array_keys(Faults::groups())));
    $own = Priors::from(['group.dead' => 40, 'charger.dead' => 9]);
    expect($sum(Priors::handbook()))
        ->toEqualWithDelta(1.0, 1e-9)
        ->and($sum($own))
        ->toEqualWithDelta(1.0, 1e-9)
        ->and($own->share('group.dead'))
        ->toBeGreaterThan(0.5)
        ->toBeLessThan(0.58)
        ->and(Priors::handbook()->name())
        ->toBe('default')
        ->and($own->name())
        ->toContain('group.dead 40')
        ->and($own->share('group.ok'))
        ->toBe(0.0);
});

it('says whether coarse stretches can see a deviation with this meter', function (): void {
    $coarse = new Instrument('pocket', 1.0, 3.0, 0.01, 'high', false);
    $fine = new Instrument('fine', 0.05, 3.0, 0.0001, 'high', false);
    expect(ProbePlanner::plan($coarse, 16, 3.8, 0.04)['coarse_from'])
        ->toBeNull()
        ->and(ProbePlanner::plan($coarse, 16, 3.8, 0.04)['readings'])
        ->toBe(16);
    $plan = ProbePlanner::plan($fine, 16, 3.8, 0.4);
    expect($plan['coarse_from'])->toBeGreaterThan(1)->and($plan['readings'])->toBeLessThan(16)->and($plan['text'])->toContain('hide');
    foreach ($plan['sees'] as $i => $s) {
        expect($s['sigma_v'])->toBeLessThanOrEqual($plan['sees'][max(0, $i - 1)]['sigma_v']);
    }
});

it('plans the search inside a parallel group by what the meter can see', function (): void {
    $plan = ParallelPlan::of(6, 0.02, 10.0, 1e-5);
    expect($plan['rest_leaking_mv'] + 5 * $plan['rest_other_mv'])
        ->toEqualWithDelta(0.0, 1e-4)
        ->and($plan['cuts'])
        ->toBe(3)
        ->and($plan['seen_under_load'])
        ->toBeTrue()
        ->and($plan['seen_at_rest'])
        ->toBeFalse()
        ->and(implode(' ', $plan['steps']))
        ->toContain('3 cuts');
    expect(ParallelPlan::of(6, 2.0, 10.0, 1e-6)['seen_at_rest'])->toBeTrue()->and(ParallelPlan::of(1, 0.1, 5.0, 1e-5)['cuts'])->toBe(0);
});

it('prices a cell of no known model by what it holds', function (?float $ah, int $cents): void {
    expect(Heartwood\Core\Money\Quote::cellCents(500, $ah))->toBe($cents);
})->with(['typical' => [3.0, 500], 'nobody told' => [null, 500], 'a hundred times larger' => [100.0, 16667], 'half' => [1.5, 250]]);

it('says of every option what it leaves, and of one that answers all of it nothing', function (): void {
    $leaves = function (array $groups, array $more = []): array {
        $out = [];
        foreach (Bench::verdict(Bench::record($groups, ['parallel' => 2], $more))->options as $o) {
            $out[$o->action->value] = $o->leaves;
        }

        return $out;
    };
    $two = $leaves([3.85, 0.022, 3.62, 3.85, 3.85]);
    expect($two['replace-group'])
        ->toBe(['group.undercharged'])
        ->and($two['charge-group'])
        ->toBe(['group.dead'])
        // What leaves service leaves nothing to solve.
        ->and($two['recycle'])
        ->toBe([]);
    $one = $leaves([3.85, 3.85, 3.62, 3.85, 3.85]);
    expect($one['charge-group'])
        ->toBe([])
        ->and($one['none'])
        ->toBe(['group.undercharged']);
});
