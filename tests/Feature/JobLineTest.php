<?php

declare(strict_types=1);

use App\Http\Views\JobView;
use Carbon\CarbonImmutable;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

beforeEach(function (): void {
    $this->bench = (new Workbench($this))->as('owner');
});

afterEach(function (): void {
    CarbonImmutable::setTestNow();
    Illuminate\Support\Carbon::setTestNow();
});

/** Hours later, and signed in anew: a session left alone has ended. */
function later(Tests\TestCase $test, int $hours): void
{
    $test->travel($hours)->hours();
    $test->flushSession();
    $test->bench->as('owner');
}

it('shows sets side by side as core judges them, in the words of the contract', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.8, 3.8, 3.8, 3.8]);
    $one = $this->getJson("/api/jobs/{$job->id}");
    expect($one->json('sets.columns'))->toHaveCount(1)->and($one->json('sets.said'))->toBe([]);
    $this->bench->read($job, [3.8, 3.75, 3.8, 3.8]);
    $two = $this->getJson("/api/jobs/{$job->id}");
    expect($two->json('sets.said'))
        ->toBe(['Group 2 falls 50 mV against the others from rest to rest: a leak is a slope.'])
        ->and($two->json('sets.groups.1.shape'))
        ->toBe('falls')
        ->and($two->json('sets.columns.1.mv.1'))
        ->toEqualWithDelta(-50.0, 0.5)
        ->and(Contract::complaints($two, 'get', '/api/jobs/{job}'))
        ->toBe([]);
});

it('draws a job as a line of time: what was done in each sitting, and what it waited', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.8, 3.8, 3.3, 3.8]);
    $verdict = $this->bench->post("jobs/{$job->id}/verdict")->json('verdict.id');
    $this->bench
        ->post("jobs/{$job->id}/decision", ['verdict_id' => $verdict, 'action' => 'charge-group', 'reason' => 'It drifted.'])
        ->assertOk();
    later($this, 26);
    $this->bench->read($job, [3.8, 3.8, 3.7, 3.8]);
    later($this, 3);
    $view = $this->getJson("/api/jobs/{$job->id}");
    $line = $view->json('line');
    expect(Contract::complaints($view, 'get', '/api/jobs/{job}'))
        ->toBe([])
        ->and($line['sittings'])
        ->toHaveCount(2)
        ->and(array_column($line['sittings'][0]['marks'], 'kind'))
        ->toBe(['in', 'set', 'verdict', 'decision'])
        ->and($line['sittings'][0]['marks'][1]['text'])
        ->toBe('set at rest')
        ->and($line['sittings'][1]['wait_h'])
        ->toEqualWithDelta(26.0, 0.1)
        ->and($line['open_h'])
        ->toEqualWithDelta(3.0, 0.1);
    // The paper tells the same.
    $paper = preg_replace(
        '/\s+/',
        ' ',
        strip_tags(
            view('report', [
                'job' => JobView::of($job->refresh(), App\Models\Person::query()->firstOrFail()),
                'workshop' => 'Gannet Quay',
                'sample' => null,
            ])->render(),
        ),
    );
    expect($paper)->toContain('From first look to now')->toContain('after 26 h set at rest')->toContain('taken in; set at rest; ');
});

it('answers a record that is as its own schema has it', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.8, 3.8, 3.3, 3.8]);
    $record = $this->getJson("/api/jobs/{$job->id}/record")->assertOk();
    expect(Contract::complaints($record, 'get', '/api/jobs/{job}/record'))->toBe([]);
});

it('would notice an answer that the schemas do not describe', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.8, 3.8, 3.3, 3.8]);
    $record = $this->getJson("/api/jobs/{$job->id}/record");
    $data = $record->json();
    $data['pack']['chemistry'] = 'unobtainium';
    $record->baseResponse->setContent((string) json_encode($data));
    expect(Contract::complaints($record, 'get', '/api/jobs/{job}/record'))->not->toBe([]);
});
