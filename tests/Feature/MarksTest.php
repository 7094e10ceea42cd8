<?php

declare(strict_types=1);

use App\Actions\KeepPack;
use App\Models\Customer;
use App\Models\Job;
use App\Models\Pack;
use App\Models\PackImport;
use App\Models\ServiceReading;
use App\Read\FoundPacks;
use App\StandIn\Mailbox;
use Carbon\Carbon;
use Heartwood\Core\Service\PassportFile;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Tests\Feature\Workbench;

// How packs in service are found, marked and reminded of, and what a file of one does to a pack that is known here already.

beforeEach(function (): void {
    $this->bench = (new Workbench($this))->as('technician');
    $this->pack = function (string $name, string $serial = '', int $daysAgo = 30): Pack {
        $job = $this->bench->open();
        $job->update(['name' => $name, 'serial' => $serial, 'status' => 'returned', 'closed_at' => now()->subDays($daysAgo)]);
        $pack = KeepPack::of($job->refresh());
        $pack->update(['work_ended_at' => now()->subDays($daysAgo), 'watch_job_id' => $job->id]);
        KeepPack::refresh($pack);

        return $pack->refresh();
    };
    $this->read = fn(Pack $pack, array $more) => $this->bench->post("packs/{$pack->id}/readings", [
        'readings' => [$more + ['id' => (string) Str::uuid7(), 'at' => now()->toIso8601ZuluString(), 'condition' => 'rest']],
    ]);
    $this->names = fn(string $query): array => array_column(
        $this->getJson("/api/packs?$query")
            ->assertOk()
            ->json('packs'),
        'name',
    );
    $this->file = function (Pack $pack, array $change = []): string {
        $document = $change + json_decode((string) $this->get("/api/packs/{$pack->id}/passport")->getContent(), true);
        unset($document['sha256']);

        return (string) json_encode(PassportFile::sealed($document));
    };
});
afterEach(fn() => Carbon::setTestNow());

it('finds packs by the beginning of their name or serial, by their code, and each once', function (): void {
    $a = ($this->pack)('Quay barrow 1', 'QB-1');
    $b = ($this->pack)('Quay barrow 2', 'Quay-2');
    $c = ($this->pack)('Ferry lamp', 'FL_9');
    expect(($this->names)('q=Quay'))
        ->toBe(['Quay barrow 2', 'Quay barrow 1'])
        ->and(($this->names)('q=quay+barrow+1'))
        ->toBe(['Quay barrow 1'])
        ->and(($this->names)('q=QB-'))
        ->toBe(['Quay barrow 1'])
        ->and(($this->names)('q=' . strtolower($c->code)))
        ->toBe(['Ferry lamp'])
        // What stands for any letter elsewhere stands for itself here.
        ->and(($this->names)('q=FL_'))
        ->toBe(['Ferry lamp'])
        ->and(($this->names)('q=F%25'))
        ->toBe([])
        ->and(($this->names)('q=barrow'))
        ->toBe([]);
    expect($a->id)->toBeLessThan($b->id);
});

it('lists the packs of one owner, those in service by their next reading, and says where there are more', function (): void {
    $late = ($this->pack)('Late', daysAgo: 60);
    $soon = ($this->pack)('Soon', daysAgo: 2);
    $home = ($this->pack)('At home');
    KeepPack::unwatch(Job::query()->where('pack_id', $home->id)->firstOrFail());
    $other = Customer::query()->create(['workshop_id' => $late->workshop_id, 'name' => 'Another']);
    $late->update(['customer_id' => $other->id]);
    expect(($this->names)('due=1'))
        ->toBe(['Late', 'Soon'])
        ->and(($this->names)("customer={$other->id}"))
        ->toBe(['Late'])
        ->and(($this->names)("customer={$other->id}&due=1&q=Soo"))
        ->toBe([])
        ->and(($this->names)(''))
        ->toBe(['At home', 'Soon', 'Late']);
    expect(FoundPacks::of($late->workshop_id, '', false, null, 2))->toHaveCount(2);
    // Of another workshop nothing.
    (new Workbench($this))->as('owner');
    expect(($this->names)("customer={$other->id}"))->toBe([])->and(($this->names)('q=Late'))->toBe([]);
});

it('marks a pack by what was read of it last, and by nothing that was taken back', function (): void {
    $pack = ($this->pack)('Marked');
    expect($pack->glance)->toBeNull();
    ($this->read)($pack, ['groups_v' => [3.8, 3.8, 3.79, 3.8], 'at' => now()->subDays(3)->toIso8601ZuluString()])->assertCreated();
    expect($pack->refresh()->glance)->toMatchArray(['kind' => 'groups', 'inside' => true]);
    $bad = ($this->read)($pack, ['groups_v' => [3.8, 3.8, 3.6, 3.8], 'at' => now()->subDay()->toIso8601ZuluString()])->assertCreated();
    expect($pack->refresh()->glance['inside'])->toBeFalse();
    // A word about the whole pack alone, later: that is what is known last.
    ($this->read)($pack, ['pack_v' => 15.2])->assertCreated();
    expect($pack->refresh()->glance['kind'])->toBe('whole');
    $last = ServiceReading::query()->where('pack_id', $pack->id)->orderByDesc('at')->value('id');
    $this->bench->post("packs/{$pack->id}/readings/$last/back", ['reason' => 'Another pack.'])->assertOk();
    $this->bench->post("packs/{$pack->id}/readings/{$bad->json('readings.0.id')}/back", ['reason' => 'A slip.'])->assertOk();
    expect($pack->refresh()->glance)->toMatchArray(['kind' => 'groups', 'inside' => true]);
});

it('tells a mark nobody keeps when the pack comes back', function (): void {
    $pack = ($this->pack)('Marked', 'MK-1');
    ($this->read)($pack, ['groups_v' => [3.8, 3.8, 3.6, 3.8]])->assertCreated();
    $pack->update(['topup_every_d' => 9]);
    KeepPack::refresh($pack->refresh());
    expect($pack->refresh()->topup_at)->not->toBeNull()->and($pack->next_at->lessThanOrEqualTo($pack->topup_at))->toBeTrue();
    $job = $this->bench->open();
    $job->update(['serial' => 'MK-1']);
    KeepPack::of($job);
    $pack->refresh();
    foreach (['glance', 'topup', 'topup_every_d', 'topup_at', 'read_at', 'next_at', 'work_ended_at'] as $field) {
        expect($pack->{$field})->toBeNull($field);
    }
});

it('counts a top-up from the return, then from each time that it was charged full', function (): void {
    $pack = ($this->pack)('Leaks', daysAgo: 20);
    $pack->update(['topup_every_d' => 15]);
    KeepPack::refresh($pack->refresh());
    $due = fn(): float => round(now()->diffInDays($pack->refresh()->topup_at), 2);
    expect($due())->toBe(-5.0);
    // A reading at rest fills nothing.
    ($this->read)($pack, ['groups_v' => [3.8, 3.8, 3.8, 3.8], 'at' => now()->subDays(5)->toIso8601ZuluString()])->assertCreated();
    expect($due())->toBe(-5.0);
    ($this->read)($pack, [
        'condition' => 'full',
        'at' => now()->subDays(4)->toIso8601ZuluString(),
        'highest_v' => 4.2,
        'lowest_v' => 4.19,
    ])->assertCreated();
    expect($due())->toBe(11.0);
    $topped = ($this->read)($pack, ['topped_up' => true])->assertCreated();
    expect($due())->toBe(15.0);
    $this->bench->post("packs/{$pack->id}/readings/{$topped->json('readings.0.id')}/back", ['reason' => 'Not so.'])->assertOk();
    expect($due())->toBe(11.0);
});

it('refuses halves that are none, and keeps nothing of them', function (array $halves, string $field): void {
    $pack = ($this->pack)('Halves');
    $refused = ($this->read)($pack, ['halves_v' => $halves])->assertStatus(422);
    expect(array_keys($refused->json('fields')))
        ->toContain($field)
        ->and(ServiceReading::query()->count())
        ->toBe(0);
})->with([
    'one alone' => [[7.6], 'readings.0.halves_v'],
    'three' => [[7.6, 7.6, 7.6], 'readings.0.halves_v'],
    'a word' => [[7.6, 'x'], 'readings.0.halves_v.1'],
    'under zero' => [[-1, 7.6], 'readings.0.halves_v.0'],
]);

it('adds two halves up to the volts of the pack, and lets a sum that was read stand', function (): void {
    $pack = ($this->pack)('Halves');
    ($this->read)($pack, ['halves_v' => [7.5, 7.7]])->assertCreated();
    ($this->read)($pack, ['halves_v' => [7.5, 7.7], 'pack_v' => 15.3, 'at' => now()->subHour()->toIso8601ZuluString()])->assertCreated();
    expect(ServiceReading::query()->orderBy('at')->pluck('pack_v')->all())->toBe([15.3, 15.2]);
});

it('joins a file to the pack that has its serial here, and touches neither its watch nor its readings', function (): void {
    $pack = ($this->pack)('Known', 'KN-1');
    ($this->read)($pack, ['groups_v' => [3.8, 3.8, 3.8, 3.8]])->assertCreated();
    $file = ($this->file)($pack, ['workshop' => 'Lower Wharf Repairs', 'watch' => ['work_ended_at' => '2020-01-01T00:00:00Z']]);
    $ended = $pack->refresh()->work_ended_at;
    $joined = $this->bench->post('packs', ['customer' => $pack->customer->name, 'passport' => $file])->assertCreated();
    expect($joined->json('id'))
        ->toBe($pack->id)
        ->and($pack->refresh()->work_ended_at->equalTo($ended))
        ->toBeTrue()
        ->and($joined->json('imports.0.from'))
        ->toBe('Lower Wharf Repairs')
        // Its own reading, and the same as another workshop told it.
        ->and(array_count_values(array_column($joined->json('readings'), 'source')))
        ->toEqual(['bench' => 1, 'import' => 1]);
    // The same file once more adds nothing; a newer one of the same pack adds what is new of it.
    $this->bench->post('packs', ['customer' => $pack->customer->name, 'passport' => $file])->assertCreated();
    expect(PackImport::query()->count())
        ->toBe(1)
        ->and(ServiceReading::query()->count())
        ->toBe(2);
    $later = ($this->file)($pack, ['workshop' => 'Lower Wharf Repairs', 'readings' => json_decode($file, true)['readings'], 'extra' => 1]);
    $this->bench->post('packs', ['customer' => $pack->customer->name, 'passport' => $later])->assertCreated();
    expect(PackImport::query()->count())
        ->toBe(2)
        ->and(ServiceReading::query()->count())
        ->toBe(2);
});

it('hands a pack to the owner that is named with its file, and takes the link of the one before', function (): void {
    $pack = ($this->pack)('Handed', 'HD-1');
    $secret = (string) $this->bench
        ->post("packs/{$pack->id}/link")
        ->assertCreated()
        ->json('secret');
    $file = ($this->file)($pack, ['workshop' => 'Elsewhere']);
    $this->bench
        ->post('packs', ['customer' => 'A new owner', 'passport' => $file])
        ->assertCreated()
        ->assertJsonPath('customer', 'A new owner');
    $this->getJson('/api/owner', ['X-Pack-Link' => $secret])->assertNotFound();
});

it('says of a changed file that it was changed, and takes it all the same', function (): void {
    $pack = ($this->pack)('Changed', 'CH-1');
    ($this->read)($pack, ['groups_v' => [3.8, 3.8, 3.7, 3.8]])->assertCreated();
    $document = json_decode(($this->file)($pack, ['workshop' => 'Elsewhere']), true);
    $document['readings'][0]['groups_v'][2] = 3.8;
    $there = (new Workbench($this))->as('senior');
    $kept = $there->post('packs', ['customer' => 'X', 'passport' => (string) json_encode($document)])->assertCreated();
    expect($kept->json('imports.0.doubts'))->toContain('It was changed since it was written: its sum is another.');
});

it('reads the letters of the simulated mailbox newest first, whatever they were wrapped in', function (): void {
    $folder = sys_get_temp_dir() . '/letters-' . Str::random(6);
    mkdir($folder);
    $put = fn(string $name, string $letter) => file_put_contents(
        "$folder/$name.json",
        json_encode(['at' => '2026-01-01T00:00:00Z', 'from' => 'a@b', 'to' => ['c@d'], 'letter' => $letter]),
    );
    $put('20260101T000000-a', "Subject: Plain\r\n\r\nHello\r\n");
    $put(
        '20260102T000000-b',
        "Subject: =?utf-8?Q?Caf=C3=A9?=\r\n a second line\r\nContent-Transfer-Encoding: quoted-printable\r\n\r\nA long =\r\nline =3D 1\r\n",
    );
    $letters = Mailbox::letters($folder);
    expect(array_column($letters, 'subject'))
        ->toBe(['Café a second line', 'Plain'])
        ->and($letters[0]['body'])
        ->toContain('A long line = 1')
        ->and(Mailbox::letters("$folder/none"))
        ->toBe([]);
});

it('shows a house at a glance by one question for the packs and one for their owners', function (): void {
    for ($i = 0; $i < 12; $i++) {
        ($this->pack)("Block $i");
    }
    DB::enableQueryLog();
    DB::flushQueryLog();
    FoundPacks::of($this->bench->workshop->id, '', true, null, 100);
    expect(count(DB::getQueryLog()))->toBe(2);
});

it('never breaks on a file that was altered anywhere, and keeps of it all or nothing', function (): void {
    $pack = ($this->pack)('Altered', 'AL-1');
    ($this->read)($pack, ['groups_v' => [3.8, 3.8, 3.7, 3.8], 'soc' => 0.6])->assertCreated();
    $file = ($this->file)($pack, [
        'workshop' => 'Elsewhere',
        'watch' => ['work_ended_at' => '2026-01-01T00:00:00Z', 'topup_every_days' => 12],
    ]);
    mt_srand(5);
    $paths = [];
    $walk = function (mixed $value, array $path) use (&$walk, &$paths): void {
        $paths[] = $path;
        foreach (is_array($value) ? $value : [] as $k => $v) {
            $walk($v, [...$path, $k]);
        }
    };
    $walk(json_decode($file, true), []);
    $harm = [null, true, -1, 1e308, '', 'x', [], ['a' => 1], '2026-99-99', str_repeat('y', 400), '2026-01-01T00:00:00Z', 0, 3.7];
    $there = (new Workbench($this))->as('senior');
    $codes = [];
    for ($n = 0; $n < 150; $n++) {
        $document = json_decode($file, true);
        $path = $paths[mt_rand(1, count($paths) - 1)];
        $at = &$document;
        foreach (array_slice($path, 0, -1) as $k) {
            $at = &$at[$k];
        }
        $last = $path[count($path) - 1];
        if (mt_rand(0, 4) === 0) {
            unset($at[$last]);
        } else {
            $at[$last] = $harm[mt_rand(0, count($harm) - 1)];
        }
        unset($at);
        $before = [Pack::query()->count(), PackImport::query()->count(), ServiceReading::query()->count()];
        $answer = $there->post('packs', ['customer' => 'X', 'passport' => (string) json_encode($document)]);
        $codes[$answer->getStatusCode()] = ($codes[$answer->getStatusCode()] ?? 0) + 1;
        expect($answer->getStatusCode())->toBeIn([201, 422], implode('/', $path) . ': ' . substr((string) $answer->getContent(), 0, 200));
        if ($answer->getStatusCode() === 422) {
            expect([Pack::query()->count(), PackImport::query()->count(), ServiceReading::query()->count()])->toBe($before);
        } else {
            // What was taken is shown, and goes on.
            $this->getJson("/api/packs/{$answer->json('id')}")->assertOk();
            $this->get("/api/packs/{$answer->json('id')}/passport")->assertOk();
        }
    }
    expect($codes)->toHaveKeys([201, 422]);
});

it('tells in the file what was decided and done, by as many questions for three jobs as for one', function (): void {
    $once = function (string $serial): Job {
        $job = $this->bench->open();
        $job->update(['serial' => $serial]);
        KeepPack::of($job->refresh());
        $this->bench->read($job, [3.85, 3.85, 1.2, 3.85]);
        $verdict = $this->bench->post("jobs/{$job->id}/verdict")->assertOk();
        $this->bench
            ->post("jobs/{$job->id}/decision", [
                'verdict_id' => $verdict->json('verdict.id'),
                'action' => 'replace-group',
                'reason' => 'Dead.',
            ])
            ->assertOk();

        return $job->refresh();
    };
    $asked = function (int $pack): array {
        DB::enableQueryLog();
        DB::flushQueryLog();
        $file = App\Read\PassportExport::of(Pack::query()->findOrFail($pack));

        return [count(DB::getQueryLog()), $file];
    };
    $first = $once('FILE-1');
    [$few, $file] = $asked($first->pack_id);
    $decision = $file['jobs'][0]['decision'];
    expect($decision['said'])->toBe('Replace group 3')->and(count($decision['steps']))->toBeGreaterThan(5);
    expect(array_unique(array_column($decision['steps'], 'state')))
        ->toBe(['open'])
        ->and($decision['steps'][0]['title'])
        ->not->toBe('');
    $once('FILE-1');
    $once('FILE-1');
    [$more, $file] = $asked($first->pack_id);
    expect($more)->toBe($few)->and(count($file['jobs']))->toBe(3);
});
