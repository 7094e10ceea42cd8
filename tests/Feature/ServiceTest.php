<?php

declare(strict_types=1);

use App\Models\Event;
use App\Models\Job;
use App\Models\Pack;
use App\Models\PackImport;
use App\Models\ServicePhoto;
use App\Models\ServiceReading;
use Carbon\Carbon;
use Heartwood\Core\Service\PassportFile;
use Illuminate\Http\UploadedFile;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Tests\Feature\Contract;
use Tests\Feature\Pictures;
use Tests\Feature\Workbench;

// What goes on after a pack went back: comeback and promise, top-up, mark, photo of a display, its passport in and out.

beforeEach(function (): void {
    $this->bench = (new Workbench($this))->as('technician');
    /** Signed as proved, and given back. */
    $this->back = function (Job $job, array $more = []): Illuminate\Testing\TestResponse {
        DB::table('sign_offs')->where('job_id', $job->id)->exists() ||
            DB::table('sign_offs')->insert([
                'workshop_id' => $job->workshop_id,
                'job_id' => $job->id,
                'revision' => $job->revision,
                'signed_by' => $this->bench->people['senior']->id,
                'results' => '[{"code":"rest-spread","title":"Spread","status":"passed","found":"4 mV","limit":"20 mV"}]',
                'signed_at' => now(),
                'reason' => 'proved',
            ]);

        return $this->bench->post("jobs/{$job->id}/return", ['note' => ''] + $more);
    };
    $this->job = function (string $serial = 'GQ-90', array $symptoms = []): Job {
        $job = $this->bench->open($symptoms);
        $job->update(['serial' => $serial]);
        App\Actions\KeepPack::of($job);
        $this->bench->read($job, [3.8, 3.801, 3.799, 3.8]);

        return $job->refresh();
    };
    $this->days = function (float $days): void {
        Carbon::setTestNow(now()->addMinutes((int) round(1440 * $days)));
        app('session')->flush();
        $this->bench->as('technician');
    };
    $this->told = fn(array $more = []): array => [
        'readings' => [
            $more + [
                'id' => (string) Str::uuid7(),
                'at' => now()->toIso8601ZuluString(),
                'condition' => 'rest',
                'signs' => array_fill_keys(['swollen', 'hot', 'smell', 'wet', 'dropped'], false),
            ],
        ],
    ];
    $this->link = fn(int $pack): string => (string) $this->bench
        ->post("packs/$pack/link")
        ->assertCreated()
        ->json('secret');
    $this->owner = fn(string $secret, ?array $body = null) => $body === null
        ? $this->getJson('/api/owner', ['X-Pack-Link' => $secret])
        : $this->postJson('/api/owner/readings', $body, ['X-Pack-Link' => $secret]);
});
afterEach(fn() => Carbon::setTestNow());

it('asks why a pack came back before its job is closed, and says whether it falls under the promise', function (): void {
    $first = ($this->job)();
    ($this->back)($first, ['truth' => [['code' => 'group.self-discharge', 'where' => ['group' => 3]]]])->assertOk();
    $kept = Event::query()->where('job_id', $first->id)->where('kind', 'closed')->firstOrFail()->data;
    expect($kept['promise'])
        ->toMatchArray(['months' => 6, 'excludes' => ['use']])
        ->and($kept)
        ->not->toHaveKey('comeback');

    ($this->days)(40);
    $again = ($this->job)();
    $seen = $this->getJson("/api/jobs/{$again->id}")->assertOk();
    expect(Contract::complaints($seen, 'get', '/api/jobs/{job}'))->toBe([]);
    expect($seen->json('comeback'))
        ->toMatchArray(['job_id' => $first->id, 'number' => $first->number, 'days' => 40, 'cause' => null])
        ->and($seen->json('comeback.promise.runs'))
        ->toBeTrue()
        ->and(array_column($seen->json('comeback.causes'), 'under_promise', 'cause'))
        ->toBe(['same-fault' => true, 'other-fault' => true, 'our-work' => true, 'use' => false]);
    expect($seen->json('others.0'))->toMatchArray(['id' => $first->id, 'cause' => null]);
    expect($seen->json('others.0.promise_until'))->toStartWith((string) now()->subDays(40)->addMonthsNoOverflow(6)->format('Y-m-d'));

    ($this->back)($again)->assertStatus(422)->assertJsonPath('code', 'no-cause');
    expect($again->refresh()->status)->toBe('open');
    ($this->back)($again, ['cause' => 'nobody'])->assertStatus(422);
    ($this->back)($again, ['cause' => 'same-fault', 'promise_months' => 2])->assertOk();
    $passport = $this->getJson("/api/packs/{$again->pack_id}")->assertOk();
    expect(Contract::complaints($passport, 'get', '/api/packs/{pack}'))->toBe([]);
    expect($passport->json('jobs.0.comeback'))->toBe(['words' => 'the same fault again', 'under_promise' => true]);
    expect($passport->json('jobs.0.promise.months'))->toBe(2)->and($passport->json('jobs.0.proof.passed'))->toBe(1);
    expect($passport->json('jobs.1.truth'))->not->toBeNull();
});

it('covers nothing once the promise has ended, and promises what the shop says', function (): void {
    $this->bench->as('owner');
    $this->bench->workshop->update([
        'settings' => ['promise_months' => 1, 'promise_excludes_use' => false, 'promise_words' => 'Bring the label.'],
    ]);
    $this->bench->as('technician');
    $first = ($this->job)();
    expect($this->getJson("/api/jobs/{$first->id}")->json('promise.sentence'))
        ->toContain('1 month')
        ->toContain('Bring the label.');
    ($this->back)($first)->assertOk();
    expect($this->getJson("/api/jobs/{$first->id}")->json('promise.kept'))->toBeTrue();
    ($this->days)(40);
    $again = ($this->job)();
    $came = $this->getJson("/api/jobs/{$again->id}")->json('comeback');
    expect($came['promise']['runs'])
        ->toBeFalse()
        ->and(array_column($came['causes'], 'under_promise'))
        ->toBe([false, false, false, false]);
});

it('proposes the cause from what is told', function (): void {
    $first = ($this->job)();
    ($this->back)($first)->assertOk();
    ($this->days)(3);
    $again = ($this->job)(symptoms: ['dropped']);
    expect($this->getJson("/api/jobs/{$again->id}")->json('comeback.suggests'))->toMatchArray([
        'cause' => 'use',
        'why' => 'it was dropped',
    ]);
});

it('knows a pack by the code on its label, whatever was typed of it', function (): void {
    $first = ($this->job)('');
    $code = Pack::query()->findOrFail($first->pack_id)->code;
    $typed = strtolower(substr($code, 0, 4) . ' ' . substr($code, 4));
    $known = $this->getJson('/api/known-pack?serial=' . urlencode($typed))->assertOk();
    expect(Contract::complaints($known, 'get', '/api/known-pack'))->toBe([])->and($known->json('visits.0.id'))->toBe($first->id);
    $again = ($this->job)($typed);
    expect($again->pack_id)
        ->toBe($first->pack_id)
        ->and($again->serial)
        ->toBe(substr($code, 0, 4) . '-' . substr($code, 4));
});

it('reminds of a top-up from when it was charged full, and says so to its owner', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.9, 3.9, 3.9, 3.9]);
    ($this->days)(14);
    $this->bench->read($job, [3.9, 3.9, 3.87, 3.9]);
    $verdict = $this->bench->post("jobs/{$job->id}/verdict")->assertOk();
    $offered = collect($verdict->json('verdict.detail.options'))->firstWhere('action', 'keep-with-topup');
    $every = $offered['topups'][0]['every_days'];
    expect($offered['topups'][0]['group'])
        ->toBe(3)
        ->and($offered['why'])
        ->toContain("every $every days");
    $decision = ['verdict_id' => $verdict->json('verdict.id'), 'action' => 'keep-with-topup', 'reason' => 'Told.'];
    $decided = $this->bench->post("jobs/{$job->id}/decision", $decision)->assertOk();
    expect(Contract::complaints($decided, 'post', '/api/jobs/{job}/decision'))->toBe([]);
    ($this->back)($job)->assertOk();
    $pack = $job->refresh()->pack_id;
    $secret = ($this->link)($pack);
    expect($this->getJson("/api/packs/$pack")->json('topup'))->toMatchArray(['every_days' => $every, 'due' => false]);
    expect(json_encode($this->getJson("/api/jobs/{$job->id}")->json('plain')))->toContain("charge it full at least every $every days");
    ($this->days)(2.9);
    ($this->owner)($secret, ($this->told)(['groups_v' => [3.8, 3.801, 3.799, 3.8]]))->assertCreated();
    ($this->days)($every - 2.8);
    expect(($this->owner)($secret)->json('topup.due'))->toBeTrue();
    $due = collect($this->getJson('/api/bench')->json('jobs'))->firstWhere('id', $job->id);
    expect($due['next'])->toBe('Remind its owner: top it up, attended');
    // Charged full, and nothing else: that is an entry.
    $answer = ($this->owner)($secret, ($this->told)(['condition' => 'full', 'topped_up' => true]))->assertCreated();
    expect($answer->json('topup.due'))->toBeFalse()->and(Contract::complaints($answer, 'post', '/api/owner/readings'))->toBe([]);
    expect(Carbon::parse($answer->json('topup.at'))->diffInDays(now()->addDays($every), true))->toBeLessThan(0.01);
});

it('marks a pack on its band, and never says fine of one beyond it', function (
    array $read,
    string $kind,
    bool $inside,
    string $answer,
): void {
    $job = ($this->job)();
    ($this->back)($job)->assertOk();
    $secret = ($this->link)($job->refresh()->pack_id);
    ($this->days)(5);
    $said = ($this->owner)($secret, ($this->told)($read))->assertCreated();
    expect($said->json('glance'))
        ->toMatchArray(['kind' => $kind, 'inside' => $inside])
        ->and($said->json('answers.0.answer'))
        ->toBe($answer);
    expect($this->getJson('/api/packs?due=1')->json('packs.0.glance.inside'))->toBe($inside);
    expect(Contract::complaints(($this->owner)($secret), 'get', '/api/owner'))->toBe([]);
})->with([
    'groups as they should be' => [['groups_v' => [3.8, 3.801, 3.799, 3.8]], 'groups', true, 'fine'],
    'groups over the limit' => [['groups_v' => [3.8, 3.801, 3.65, 3.8]], 'groups', false, 'again'],
    'halves alike' => [['halves_v' => [7.6, 7.7], 'resolution_v' => 0.1], 'halves', true, 'again'],
    'halves apart' => [['halves_v' => [7.6, 7.0], 'resolution_v' => 0.1], 'halves', false, 'stop'],
    'a whole pack' => [['soc' => 0.55, 'pack_v' => 15.2, 'resolution_v' => 0.1], 'whole', true, 'again'],
    'a whole pack too low' => [['soc' => 0.55, 'pack_v' => 13.5, 'resolution_v' => 0.1], 'whole', false, 'stop'],
]);

it('keeps the photo of a display beside its reading, once, and shows it to the workshop alone', function (): void {
    $job = ($this->job)();
    ($this->back)($job)->assertOk();
    $pack = $job->refresh()->pack_id;
    $secret = ($this->link)($pack);
    $send = fn(string $secret, string $id, ?string $reading, UploadedFile $file) => $this->post(
        '/api/owner/photos',
        ['id' => $id, 'file' => $file] + ($reading === null ? [] : ['reading' => $reading]),
        ['X-Pack-Link' => $secret, 'Accept' => 'application/json'],
    );
    $jpeg = fn(): UploadedFile => new UploadedFile(Pictures::jpeg(), 'p.jpg', null, null, true);
    [$id, $reading] = [(string) Str::uuid7(), (string) Str::uuid7()];
    $send($secret, $id, $reading, $jpeg())->assertCreated();
    $send($secret, $id, $reading, $jpeg())->assertOk();
    expect(ServicePhoto::query()->count())->toBe(1);
    expect($this->getJson("/api/packs/$pack")->json('display_photos.0'))->toMatchArray(['id' => $id, 'reading' => $reading]);
    $this->get("/api/packs/$pack/displays/$id/small")
        ->assertOk()
        ->assertHeader('Content-Type', 'image/jpeg');
    $other = ($this->job)('GQ-91');
    $this->get("/api/packs/{$other->pack_id}/displays/$id/small")->assertNotFound();
    expect(json_encode(($this->owner)($secret)->json()))->not->toContain($id);
    // No picture, guessed, flooded: nothing of it is kept.
    $send($secret, (string) Str::uuid7(), null, UploadedFile::fake()->createWithContent('a.jpg', '<svg/>'))->assertStatus(422);
    $send('nothing', (string) Str::uuid7(), null, $jpeg())->assertNotFound();
    for ($i = 0; $i < 11; $i++) {
        $send($secret, (string) Str::uuid7(), null, $jpeg())->assertCreated();
    }
    $send($secret, (string) Str::uuid7(), null, $jpeg())->assertStatus(429);
    expect(ServicePhoto::query()->count())->toBe(12);
    $this->bench->post("packs/$pack/link");
    $send($secret, (string) Str::uuid7(), null, $jpeg())->assertNotFound();
});

it('reads pasted text without keeping any of it', function (): void {
    $job = ($this->job)();
    ($this->back)($job)->assertOk();
    $pack = $job->refresh()->pack_id;
    $paste = fn(string $text) => $this->bench->post("packs/$pack/pasted", [
        'text' => $text,
        'date' => now()->format('Y-m-d'),
        'condition' => 'rest',
    ]);
    $read = $paste("date,g1,g2,g3,g4\n2026-01-02,3.8,3.8,3.8,3.79\n")->assertOk();
    expect(Contract::complaints($read, 'post', '/api/packs/{pack}/pasted'))
        ->toBe([])
        ->and($read->json('readings.0.groups_v'))
        ->toBe([3.8, 3.8, 3.8, 3.79])
        ->and($read->json('readings.0.source'))
        ->toBe('import');
    expect($paste('3.8 3.8 x 3.8')->json('wrong.0'))->toContain('no voltage');
    expect(ServiceReading::query()->count())->toBe(0);
    $paste('')->assertStatus(422);
});

it('gives a pack as a file, and another workshop keeps it word for word with what it cannot vouch for', function (): void {
    $job = ($this->job)('GQ-90', ['low-range']);
    $this->bench->post("jobs/{$job->id}/verdict")->assertOk();
    ($this->back)($job, ['truth' => [['code' => 'group.undercharged', 'where' => ['group' => 2]]]])->assertOk();
    $pack = Pack::query()->findOrFail($job->refresh()->pack_id);
    $secret = ($this->link)($pack->id);
    ($this->days)(5);
    ($this->owner)($secret, ($this->told)(['groups_v' => [3.8, 3.801, 3.799, 3.8]]))->assertCreated();
    $file = $this->get("/api/packs/{$pack->id}/passport")->assertOk();
    expect(Contract::complaints($file, 'get', '/api/packs/{pack}/passport'))->toBe([]);
    $json = (string) $file->getContent();
    $document = json_decode($json, true);
    expect(PassportFile::of($document)->isWhole())
        ->toBeTrue()
        ->and($document['jobs'][0]['truth'][0]['code'])
        ->toBe('group.undercharged');
    // No customer and nobody of the workshop is in it.
    foreach ([$job->customer->name, ...array_map(fn($p): string => $p->name, $this->bench->people)] as $name) {
        expect($json)->not->toContain($name);
    }
    expect((string) $this->get("/api/packs/{$pack->id}/passport")->getContent())->toBe($json);

    // Elsewhere, with something that nobody here knows.
    $document['warranty'] = ['of' => 'the maker'];
    unset($document['sha256']);
    $sent = (string) json_encode(PassportFile::sealed($document));
    $there = (new Workbench($this))->as('technician');
    $kept = $there->post('packs', ['customer' => 'Somebody else', 'passport' => $sent])->assertCreated();
    expect(Contract::complaints($kept, 'post', '/api/packs'))
        ->toBe([])
        ->and($kept->json('serial'))
        ->toBe('GQ-90')
        ->and($kept->json('imports.0.doubts'))
        ->toContain('Not known here, kept as it came: warranty.')
        ->toContain('1 of its 1 readings were said by its owner.')
        ->and($kept->json('readings.0.source'))
        ->toBe('import')
        ->and($kept->json('watch.state'))
        ->toBe('cannot-tell')
        ->and($kept->json('jobs'))
        ->toBe([]);
    $id = $kept->json('id');
    expect(PackImport::query()->where('pack_id', $id)->value('document'))->toBe($sent);
    // Twice is once; and what was kept goes on with it, word for word.
    $there
        ->post('packs', ['customer' => 'Somebody else', 'passport' => $sent])
        ->assertCreated()
        ->assertJsonPath('id', $id);
    expect(PackImport::query()->where('pack_id', $id)->count())
        ->toBe(1)
        ->and(ServiceReading::query()->where('pack_id', $id)->count())
        ->toBe(1);
    $on = $this->get("/api/packs/$id/passport")->assertOk();
    expect(json_decode((string) $on->getContent(), true)['earlier'][0]['document'])->toBe(json_decode($sent, true));
    // A job of it here joins it, and its other workshop's pack is not seen.
    $this->getJson("/api/packs/{$pack->id}")->assertNotFound();
});

it('refuses what is no passport, by its place, and keeps nothing of it', function (Closure $harm, string $place): void {
    $job = ($this->job)();
    ($this->back)($job)->assertOk();
    $document = json_decode((string) $this->get("/api/packs/{$job->refresh()->pack_id}/passport")->getContent());
    $harm($document);
    $before = [Pack::query()->count(), PackImport::query()->count()];
    $refused = $this->bench->post('packs', [
        'customer' => 'X',
        'passport' => is_string($document) ? $document : (string) json_encode($document),
    ]);
    $refused->assertStatus(422);
    expect((string) $refused->getContent())->toContain(str_replace('/', '\/', $place));
    expect([Pack::query()->count(), PackImport::query()->count()])->toBe($before);
})->with([
    'no format' => [
        function (object &$d): void {
            $d->format = 'heartwood.job';
        },
        '/format',
    ],
    'no series' => [
        function (object &$d): void {
            $d->pack->spec->series = 0;
        },
        '/pack/spec',
    ],
    'an unknown chemistry' => [
        function (object &$d): void {
            $d->pack->spec->chemistry = 'steam';
        },
        '/pack/spec/chemistry',
    ],
    'a reading without a name' => [
        function (object &$d): void {
            $d->readings = [(object) ['id' => 'x', 'at' => '2026-01-01T00:00:00Z', 'condition' => 'rest', 'source' => 'bench']];
        },
        '/readings/0/id',
    ],
    'another pack of this serial' => [
        function (object &$d): void {
            $d->pack->spec->series = 9;
            $d->written_at = '2026-01-01T00:00:00Z';
        },
        'passport',
    ],
]);

it('takes no passport that is no JSON', function (): void {
    $this->bench->post('packs', ['customer' => 'X', 'passport' => '{'])->assertStatus(422);
    $this->bench->as('trainee');
    $this->bench->post('packs', ['customer' => 'X', 'passport' => '{}'])->assertForbidden();
});
