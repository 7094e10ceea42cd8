<?php

declare(strict_types=1);

use App\Models\BenchTest;
use App\Models\Job;
use App\Models\TestLog;
use Carbon\CarbonImmutable;
use Illuminate\Http\UploadedFile;
use Illuminate\Support\Str;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

beforeEach(function (): void {
    $this->bench = (new Workbench($this))->as('senior');
});

afterEach(function (): void {
    CarbonImmutable::setTestNow();
    Illuminate\Support\Carbon::setTestNow();
});

/** A discharge of a 4S pack of 7.5 Ah at C/5 from full to where its board cuts; a charge to full before it, where wanted. */
function packLog(float $ah = 7.2, bool $charged = false, float $factor = 1.0, int $series = 4): string
{
    $out = "Time (s),Voltage (V),Current (A),Temperature (C)\n";
    $t = 0;
    $row = function (float $v, float $a) use (&$out, &$t, $factor, $series): void {
        $out .= sprintf("%d,%.4f,%.4f,21.0\n", $t, $v * $series * $factor, $a);
        $t += 30;
    };
    if ($charged) {
        for ($k = 0; $k <= 200; $k++) {
            $row(4.0 + 0.001 * $k, max(0.3, 1.5 - 0.01 * $k));
        }
        $row(4.19, 0.0);
    }
    $n = (int) round(($ah / 1.5) * 120);
    for ($k = 0; $k <= $n; $k++) {
        $row(4.15 - ((4.15 - 2.79) * $k) / $n, -1.5);
    }

    return $out;
}

function attach(object $test, Job $job, string $log, array $about = [])
{
    return $test->post('/api/logs', ['file' => UploadedFile::fake()->createWithContent('wall.csv', $log), 'job_id' => $job->id] + $about, [
        'Idempotency-Key' => (string) Str::uuid7(),
        'Accept' => 'application/json',
    ]);
}

$label = ['label' => ['capacity_ah' => 7.5], 'bms' => ['low_cut_v' => 2.8]];

it('takes a log of a whole pack: first it does not count, then somebody says that it was full, and it is evidence', function () use (
    $label,
): void {
    $job = $this->bench->open([], [], $label);
    $this->bench->read($job, [3.8, 3.8, 3.8, 3.8]);
    $r = attach($this, $job, packLog())->assertCreated();
    expect(Contract::complaints($r, 'post', '/api/logs'))
        ->toBe([])
        ->and($r->json('of'))
        ->toBe("job {$job->number}");
    expect($r->json('log.capacity.counts'))
        ->toBeFalse()
        ->and($r->json('log.capacity.missing'))
        ->toBe(['no full charge before it in this log: was it full?'])
        ->and(BenchTest::query()->count())
        ->toBe(0);
    $before = $this->getJson("/api/jobs/{$job->id}/capacity")->assertOk();
    expect(Contract::complaints($before, 'get', '/api/jobs/{job}/capacity'))
        ->toBe([])
        ->and($before->json('history.tests.0.counts'))
        ->toBeFalse()
        ->and($before->json('history.said'))
        ->toBe([]);
    $id = $r->json('log.id');
    $this->bench->post("logs/$id/full")->assertOk();
    $test = BenchTest::query()->sole();
    expect($test->kind)
        ->toBe('capacity')
        ->and($test->data['scope'])
        ->toBe('pack')
        ->and($test->data['measured_ah'])
        ->toEqualWithDelta(7.2, 0.08);
    $after = $this->getJson("/api/jobs/{$job->id}/capacity");
    expect($after->json('history.tests'))
        ->toHaveCount(1)
        ->and($after->json('history.tests.0.soh'))
        ->toEqualWithDelta(0.95, 0.01)
        ->and($after->json('history.said.0'))
        ->toContain('of the 7.5 Ah on its label')
        ->toContain('the label should say 7 Ah')
        ->and($after->json('logs.0.capacity.said_full.by'))
        ->toBe('Senior');
    // The proof and the verdict use it.
    $proof = collect($this->getJson("/api/jobs/{$job->id}")->json('proof'))->firstWhere('title', 'Capacity, logged');
    expect($proof['found'])->toContain('7.1');
    $this->bench->post("logs/$id/full")->assertStatus(409);
    expect(BenchTest::query()->count())->toBe(1);
});

it('stands beside last year\'s test of the same pack, by its serial, and says what changed', function () use ($label): void {
    $old = $this->bench->open([], [], $label);
    $old->update(['serial' => 'SB-4']);
    attach($this, $old, packLog(7.2, true))->assertCreated();
    $this->travel(370)->days();
    $this->flushSession();
    $this->bench->as('senior');
    $job = $this->bench->open([], [], $label);
    $job->update(['serial' => 'SB-4']);
    attach($this, $job, packLog(6.6, true))->assertCreated();
    $h = $this->getJson("/api/jobs/{$job->id}/capacity")->json('history');
    expect($h['tests'])
        ->toHaveCount(2)
        ->and($h['tests'][0]['from'])
        ->toBe("wall.csv, job {$old->number}")
        ->and($h['tests'][1]['since']['sure'])
        ->toBeTrue()
        ->and($h['per_year_ah'])
        ->toEqualWithDelta(-0.59, 0.03)
        ->and($h['said'][1])
        ->toContain('Ah a year');
    // A log that says when it was taken stands at its own date, whenever it comes here.
    $dated = preg_replace_callback(
        '/^(\\d+),/m',
        fn(array $m): string => gmdate('Y-m-d H:i:s', 1600000000 + (int) $m[1]) . ',',
        packLog(7.4, true),
    );
    attach($this, $job, str_replace('Time (s)', 'DateTime', (string) $dated))->assertCreated();
    expect($this->getJson("/api/jobs/{$job->id}/capacity")->json('history.tests.0.at'))->toStartWith('2020-09-13');
    // Another workshop's pack of that serial is none of ours.
    $other = (new Workbench($this))->as('owner');
    $theirs = $other->open([], [], $label);
    $theirs->update(['serial' => 'SB-4']);
    expect($this->getJson("/api/jobs/{$theirs->id}/capacity")->json('history.tests'))->toBe([]);
});

it('takes a log of one group by itself, and one that nobody can tell is refused with the question', function () use ($label): void {
    $job = $this->bench->open([], [], $label);
    $r = attach($this, $job, packLog(6.0, true, 1.0, 1), ['group_no' => 3])->assertCreated();
    expect($r->json('log.group_no'))->toBe(3)->and($r->json('log.capacity.missing.0'))->toContain('the cut-off of 2.50 V was not reached');
    attach($this, $job, packLog(6.0, true, 1.0, 1) . "\n", ['group_no' => 9])
        ->assertStatus(422)
        ->assertJsonPath('fields.group_no', 'From 1 to 4.');
    // Volts of four groups are no group's.
    attach($this, $job, packLog(6.0, true), ['group_no' => 2])
        ->assertStatus(422)
        ->assertJsonPath('code', 'log');
    // Without a sign and without anything that tells it.
    $unsigned = str_replace(',-', ',', packLog(6.4, true));
    $asked = attach($this, $job, $unsigned)->assertStatus(422);
    expect($asked->json('message'))->toContain('Its current has no sign');
    expect(TestLog::query()->count())->toBe(1);
    $bare = $this->bench->open([], [], ['cell' => []]);
    attach($this, $bare, packLog(6.1, true))->assertStatus(422)->assertJsonPath('code', 'no-rating');
});

it('takes no log, and nobody\'s word, into a job that is closed', function () use ($label): void {
    $job = $this->bench->open([], [], $label);
    $id = attach($this, $job, packLog())->assertCreated()->json('log.id');
    $job->update(['status' => 'returned']);
    attach($this, $job, packLog(6.9, true))->assertJsonPath('code', 'closed');
    $this->bench->post("logs/$id/full")->assertJsonPath('code', 'closed');
    expect(TestLog::query()->count())
        ->toBe(1)
        ->and(BenchTest::query()->count())
        ->toBe(0);
});

it('remembers of a tester what a person said, and finds the rest in each log anew', function () use ($label): void {
    $job = $this->bench->open([], [], $label);
    $said = ['mapping' => json_encode(['degrees' => 'C', 'scale' => ['time' => 1]]), 'tester' => 'Wall tester'];
    attach($this, $job, packLog(7.2, true), $said)->assertCreated();
    $turned = preg_replace_callback(
        '/,(-?)(\d\.\d{4}),21/',
        fn(array $m): string => ',' . ($m[1] === '-' ? '' : '-') . $m[2] . ',21',
        packLog(7.0, true),
    );
    $r = attach($this, $job, (string) $turned, ['tester' => 'Wall tester'])->assertCreated();
    expect(TestLog::query()->findOrFail($r->json('log.id'))->mapping['sign'])
        ->toBe(-1)
        ->and($r->json('log.capacity.counts'))
        ->toBeTrue();
});
