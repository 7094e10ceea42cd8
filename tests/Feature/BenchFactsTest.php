<?php

declare(strict_types=1);

use App\Actions\BuildRecord;
use App\Contract\RecordReader;
use App\Models\Event;
use App\Models\Job;
use Illuminate\Support\Str;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

// Everything that the record knows can be typed at the bench, arrives once, and moves the verdict.

beforeEach(function (): void {
    $this->bench = (new Workbench($this))->as('technician');
});

it('takes every kind of test that the record has, and gives it back in the record', function (array $data): void {
    $job = $this->bench->open();
    $this->bench
        ->send([$this->bench->entry($job, 'test', $data)])
        ->assertOk()
        ->assertJsonPath('results.0.status', 'stored');
    $record = BuildRecord::of($job->fresh());
    expect(array_diff_key($record['tests'][0], ['at' => 1, 'revision' => 1]))
        ->toEqual($data)
        ->and(RecordReader::read(json_encode($record))['record']->tests)
        ->toHaveCount(1);
})->with([
    'wake' => [['kind' => 'wake', 'action' => 'button', 'woke' => false]],
    'fuse' => [['kind' => 'continuity', 'element' => 'fuse', 'ohm' => 0.01]],
    'joint' => [['kind' => 'continuity', 'element' => 'joint', 'where' => ['joint' => 2], 'drop_v' => 0.12, 'current_a' => -8.0]],
    'capacity' => [['kind' => 'capacity', 'scope' => 'pack', 'measured_ah' => 6.9, 'started_full' => true]],
    'resistance' => [['kind' => 'resistance', 'scope' => ['group' => 2], 'mohm' => 14.2, 'method' => 'four-wire']],
    'strips' => [['kind' => 'strip-millivolt', 'scope' => ['group' => 3], 'cells_mv' => [-0.05, 0.11, null], 'current_a' => 0]],
    'tug' => [['kind' => 'tug-weld', 'where' => ['group' => 1], 'loose' => true]],
    'refill' => [['kind' => 'refill', 'scope' => ['group' => 4], 'days' => 9, 'refill_ah' => 0.2]],
    'charger' => [['kind' => 'charger', 'open_v' => 16.8, 'loaded_v' => 16.7, 'stages' => ['cc', 'cv']]],
    'charge' => [['kind' => 'charge', 'stopped_by' => 'bms', 'after_ah' => 1.2, 'groups_v' => [4.2, 4.0, null, 4.01]]],
    'discharge' => [['kind' => 'discharge', 'stopped_by' => 'bms', 'after_ah' => 1.0, 'current_a' => -9.0, 'peak_a' => -20.0]],
    'flex' => [['kind' => 'flex', 'element' => 'connector', 'changed' => true]],
    'sensor' => [['kind' => 'sensor', 'ohm' => 10100, 'expected_ohm' => 10000]],
    'gauge' => [['kind' => 'gauge', 'full_charge_wh' => 31.0, 'design_wh' => 52.0, 'reported_soc' => 0.8]],
    'insulation' => [['kind' => 'insulation', 'mohm' => 50]],
    'load' => [['kind' => 'load-check', 'harness_ohm' => 0.02, 'device_ok' => true]],
]);

it('writes down what was done to the pack, once, and judges later readings by it', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.9, 3.55, 3.9, 3.9]);
    $id = (string) Str::uuid7();
    $answer = $this->bench
        ->send([$this->bench->entry($job, 'event', ['kind' => 'group-charged', 'where' => ['group' => 2]], $id)])
        ->assertOk()
        ->assertJsonPath('results.0.status', 'stored');
    expect(Contract::complaints($answer, 'post', '/api/outbox'))->toBe([]);
    // Sent again from another box: known.
    $this->bench->outbox = (string) Str::uuid7();
    $this->bench->seq = 0;
    $this->bench
        ->send([$this->bench->entry($job, 'event', ['kind' => 'group-charged', 'where' => ['group' => 2]], $id)])
        ->assertOk()
        ->assertJsonPath('results.0.status', 'duplicate');
    expect(Event::query()->where('job_id', $job->id)->where('kind', 'pack-event')->count())->toBe(1);
    $record = BuildRecord::of($job->fresh());
    expect($record['events'][0])
        ->toMatchArray(['kind' => 'group-charged', 'where' => ['group' => 2], 'revision' => 1])
        ->not->toHaveKey('entry')
        ->and(RecordReader::read(json_encode($record))['record']->events)
        ->toHaveCount(1);
    $this->bench->as('technician');
    $shown = $this->getJson("/api/jobs/{$job->id}")->assertOk();
    expect(Contract::complaints($shown, 'get', '/api/jobs/{job}'))
        ->toBe([])
        ->and(array_column($shown->json('events'), 'kind'))
        ->toContain('pack-event');
});

it('refuses at the bench what is a step of the work, or has no place', function (array $data, string $field): void {
    $job = $this->bench->open();
    $this->bench
        ->send([$this->bench->entry($job, 'event', $data)])
        ->assertOk()
        ->assertJsonPath('results.0.status', 'refused')
        ->assertJsonStructure(['results' => [['errors' => [$field]]]]);
    expect(Event::query()->where('job_id', $job->id)->where('kind', 'pack-event')->exists())->toBeFalse();
})->with([
    'a new board' => [['kind' => 'board-replaced'], 'kind'],
    'nothing known' => [['kind' => 'painted'], 'kind'],
    'no kind' => [[], 'kind'],
    'which group' => [['kind' => 'group-charged'], 'where'],
    'a joint for a group' => [['kind' => 'group-charged', 'where' => ['joint' => 1]], 'where'],
    'past the last tap' => [['kind' => 'retightened', 'where' => ['joint' => 9]], 'where'],
]);

it('does not write into another workshop\'s job', function (): void {
    $job = $this->bench->open();
    $stranger = (new Workbench($this))->as('owner');
    $stranger
        ->send([$stranger->entry($job, 'event', ['kind' => 'balanced'])])
        ->assertOk()
        ->assertJsonPath('results.0.status', 'refused');
    expect(Event::query()->where('job_id', $job->id)->where('kind', 'pack-event')->exists())->toBeFalse();
});

it('takes heat at a joint as a set of its own, and the verdict puts the resistance there', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.9, 3.9, 3.9, 3.9]);
    $this->bench->read($job, [3.8, 3.8, 3.62, 3.8], 'discharge', -8.0);
    $asked = $this->bench->post("jobs/{$job->id}/verdict")->assertSuccessful();
    expect($asked->json('verdict.document.next_tests.0.test'))
        ->toBe('continuity')
        ->and($asked->json('verdict.document.next_tests.0.where'))
        ->toHaveKey('joint');
    $this->bench
        ->send([
            $this->bench->entry($job, 'measurement', [
                'condition' => 'discharge',
                'current_a' => -8.0,
                'ambient_c' => 20,
                'temperatures' => [['where' => ['joint' => 3], 'c' => 47.0]],
            ]),
        ])
        ->assertJsonPath('results.0.status', 'stored');
    $first = $this->bench
        ->post("jobs/{$job->id}/verdict")
        ->assertSuccessful()
        ->json('verdict.document.findings.0');
    expect($first['code'])
        ->toBe('joint.high-resistance')
        ->and($first['where'])
        ->toBe(['joint' => 3]);
});

it('keeps the plug that was out and the room with the set', function (): void {
    $job = $this->bench->open();
    $this->bench
        ->send([
            $this->bench->entry($job, 'measurement', [
                'condition' => 'rest',
                'rested_min' => 600,
                'ambient_c' => 18.5,
                'sense_connected' => false,
            ]),
        ])
        ->assertJsonPath('results.0.status', 'stored');
    expect(BuildRecord::of(Job::query()->findOrFail($job->id))['measurements'][0])->toMatchArray([
        'ambient_c' => 18.5,
        'sense_connected' => false,
    ]);
});
