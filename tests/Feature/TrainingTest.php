<?php

declare(strict_types=1);

use App\Models\Job;
use App\Models\Person;
use App\Models\TrainingAct;
use App\Models\TrainingCase;
use App\Models\TrainingRound;
use App\Models\Workshop;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Trainer\Rounds;
use Heartwood\Core\Trainer\Tool;
use Heartwood\Core\Trainer\Trainer;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Illuminate\Testing\TestResponse;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

/* The trainer through the server: rounds that are played, judged and remembered, and that touch nothing else. */

beforeEach(function (): void {
    $this->bench = (new Workbench($this))->as('trainee');
});

/** @param  array<string, mixed>  $act */
function trainingAct(Workbench $bench, string $round, int $number, array $act, ?string $id = null): TestResponse
{
    return $bench->post("training/rounds/$round/acts", ['id' => $id ?? (string) Str::uuid7(), 'number' => $number, 'act' => $act]);
}

/** A round that was drawn for whoever is signed in. */
function begun(Workbench $bench, int $level = 1): TrainingRound
{
    return TrainingRound::query()->findOrFail(
        $bench
            ->post('training/rounds', ['level' => $level])
            ->assertCreated()
            ->json('id'),
    );
}

/** Plays a round as the tool would and answers as it would. @param array<string, mixed>|null $answer what to say instead */
function played(Workbench $bench, TrainingRound $round, ?array $answer = null): TestResponse
{
    $tool = new Tool($round->start()->round());
    $said = Tool::answer($tool->play());
    foreach ($tool->acts as $i => $act) {
        TrainingAct::query()->create([
            'id' => (string) Str::uuid7(),
            'training_round_id' => $round->id,
            'number' => $i + 1,
            'act' => $act,
            'at' => now(),
        ]);
    }

    return $bench->post("training/rounds/{$round->id}/answer", $answer ?? $said);
}

/** A closed job, and what it was. @param list<array<string, mixed>>|null $truth */
function closedJob(Workbench $bench, array $volts, ?array $truth): Job
{
    $bench->as('senior');
    $job = $bench->open(['dead-output']);
    $job->update(['serial' => 'SN-4711', 'complaint' => 'Ask for Rosalind at the gate']);
    $bench->read($job, $volts);
    $verdict = $bench->post("jobs/{$job->id}/verdict")->json('verdict.id');
    $bench->post("jobs/{$job->id}/decision", ['verdict_id' => $verdict, 'action' => 'recycle', 'reason' => 'not worth it'])->assertOk();
    $bench->post("jobs/{$job->id}/return", $truth === null ? [] : ['truth' => $truth])->assertOk();

    return $job->refresh();
}

it('begins a round that says what the customer says, and nowhere what it is or what it was drawn from', function (): void {
    foreach ([1, 2, 3, 4] as $level) {
        $begun = $this->bench->post('training/rounds', ['level' => $level])->assertCreated();
        expect(Contract::complaints($begun, 'post', '/api/training/rounds'))->toBe([]);
        $round = TrainingRound::query()->findOrFail($begun->json('id'));
        $shown = trainingAct($this->bench, $round->id, 1, ['do' => 'look'])->assertOk();
        expect(Contract::complaints($shown, 'post', '/api/training/rounds/{trainingRound}/acts'))->toBe([]);
        $again = $this->getJson("/api/training/rounds/{$round->id}");
        $home = $this->getJson('/api/training');
        foreach ([$begun, $shown, $again, $home] as $answer) {
            $text = (string) $answer->getContent();
            expect($text)->not->toContain((string) $round->seed)->not->toContain('truth');
            foreach (Faults::codes() as $code) {
                expect($text)->not->toContain("\"$code\"");
            }
        }
        expect($begun->json('over'))->toBeNull()->and($begun->json('brief.says'))->not->toBe('');
        // Whoever has one under way goes on with it.
        expect($this->bench->post('training/rounds', ['level' => 1])->json('id'))->toBe($round->id);
        expect($home->json('open'))->toBe($round->id);
        $this->bench->post("training/rounds/{$round->id}/leave")->assertOk();
    }
});

it('plays act by act: each once however often it is sent, in turn, and as the verb has it', function (): void {
    $round = begun($this->bench);
    $id = (string) Str::uuid7();
    $read = ['do' => 'read', 'from' => 'T0', 'to' => 'T1'];
    $first = trainingAct($this->bench, $round->id, 1, $read, $id)->assertOk();
    $same = trainingAct($this->bench, $round->id, 1, $read, $id)->assertOk();
    expect($same->json('acts'))->toBe($first->json('acts'))->toHaveCount(1)->and($first->json('seconds'))->toBe(14);
    // From another screen, at a turn that was taken.
    trainingAct($this->bench, $round->id, 1, $read)->assertStatus(409)->assertJsonPath('code', 'out-of-turn');
    trainingAct($this->bench, $round->id, 3, $read)->assertStatus(409);
    // What is no act is told by its field.
    trainingAct($this->bench, $round->id, 2, ['do' => 'read', 'from' => 'T0'])
        ->assertStatus(422)
        ->assertJsonPath('code', 'not-an-act');
    trainingAct($this->bench, $round->id, 2, ['do' => 'sing'])->assertStatus(422);
    $next = trainingAct($this->bench, $round->id, 2, ['do' => 'wait', 'hours' => 24])->assertOk();
    expect($next->json('seconds'))
        ->toBe(14 + 86_400)
        ->and(TrainingAct::query()->where('training_round_id', $round->id)->count())
        ->toBe(2);
    $verb = Trainer::replay($round->start(), [new Fields($read), new Fields(['do' => 'wait', 'hours' => 24])], null);
    expect($next->json('acts.*.result'))
        ->toEqual(json_decode((string) json_encode(array_column($verb['acts'], 'result')), true))
        ->and($next->json('check.groups.0.v'))
        ->toBe($first->json('acts.0.result.v'));
});

it('ends a round at an unsafe act, names the rule, and takes no further act', function (): void {
    $round = begun($this->bench);
    $over = trainingAct($this->bench, $round->id, 1, ['do' => 'charge', 'current_a' => 2, 'minutes' => 5])->assertOk();
    expect(Contract::complaints($over, 'post', '/api/training/rounds/{trainingRound}/acts'))
        ->toBe([])
        ->and($over->json('over.by'))
        ->toBe('unsafe')
        ->and($over->json('over.outcome'))
        ->toBe('unsafe')
        ->and($over->json('over.unsafe'))
        ->toBe('Triage: current flowed before anybody had looked at the pack.')
        ->and($over->json('over.score.safe'))
        ->toBeFalse();
    trainingAct($this->bench, $round->id, 2, ['do' => 'look'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'ended');
    $this->bench->post("training/rounds/{$round->id}/answer", ['findings' => []])->assertStatus(409);
    $this->bench->post("training/rounds/{$round->id}/leave")->assertStatus(409);
    expect($this->getJson('/api/training')->json('progress.unsafe'))->toBe(1);
});

it('scores an answer, tells what it was, and remembers how sure somebody was', function (): void {
    $round = begun($this->bench, 1);
    $over = played($this->bench, $round)->assertOk();
    expect(Contract::complaints($over, 'post', '/api/training/rounds/{trainingRound}/answer'))
        ->toBe([])
        ->and($over->json('over.score.debrief'))
        ->not->toBe([])
        ->and($over->json('over.seed'))
        ->toBe($round->refresh()->seed)
        ->and(count($over->json('over.truth')))
        ->toBe(count($round->score['truth']));
    $home = $this->getJson('/api/training')->assertOk();
    expect(Contract::complaints($home, 'get', '/api/training'))
        ->toBe([])
        ->and($home->json('progress.accuracy.rounds'))
        ->toBe(1)
        ->and($home->json('open'))
        ->toBeNull()
        ->and($home->json('last.0.id'))
        ->toBe($round->id)
        ->and($home->json('kinds.0.seen'))
        ->toBe(1);
    // A board that is blamed for everything is wrong where it is not the board.
    $blamed = begun($this->bench, 1);
    $kinds = array_column($blamed->start()->round()->patient->truth, 'code');
    $answer = [
        'findings' => [['code' => 'bms.output-dead', 'where' => null, 'probability' => 0.99]],
        'option' => ['action' => 'replace-board'],
    ];
    expect($kinds)->not->toContain('bms.output-dead');
    $wrong = played($this->bench, $blamed, $answer)->assertOk();
    expect($wrong->json('over.outcome'))
        ->toBe('wrong')
        ->and($wrong->json('over.score.brier'))
        ->toBeGreaterThan(0.9)
        ->and($wrong->json('over.chose'))
        ->toBe('Replace the board')
        ->and($wrong->json('over.said.0.title'))
        ->toBe(Faults::of('bms.output-dead')->words()->anywhere());
    // What is no answer is told by its field, and the round goes on.
    $open = begun($this->bench, 1);
    $this->bench
        ->post("training/rounds/{$open->id}/answer", ['findings' => [['code' => 'no.such', 'probability' => 0.5]]])
        ->assertStatus(422)
        ->assertJsonPath('fields', fn(array $f): bool => isset($f['findings.0.code']));
    $this->bench
        ->post("training/rounds/{$open->id}/answer", ['findings' => [['code' => 'bms.latched', 'probability' => 1.2]]])
        ->assertStatus(422);
    expect($open->refresh()->ended_at)->toBeNull();
});

it('shows a round that is over as it was seen, whatever is drawn from its seed later', function (): void {
    $round = begun($this->bench, 1);
    $over = played($this->bench, $round)->assertOk();
    $seen = fn(): array => $this->getJson("/api/training/rounds/{$round->id}")
        ->assertOk()
        ->json();
    $asItWas = $seen();
    expect($asItWas['sets'])->toEqual($over->json('sets'))->not->toBe([])->and($asItWas['acts'])->not->toBe([]);
    DB::table('training_rounds')
        ->where('id', $round->id)
        ->update(['seed' => 4_711]);
    $later = $seen();
    expect(array_diff_key($later, ['over' => 1]))->toEqual(array_diff_key($asItWas, ['over' => 1]));
});

it('counts a round that is given up as one that was missed, and shows what it was', function (): void {
    $round = begun($this->bench);
    $left = $this->bench->post("training/rounds/{$round->id}/leave")->assertOk();
    expect(Contract::complaints($left, 'post', '/api/training/rounds/{trainingRound}/leave'))
        ->toBe([])
        ->and($left->json('over.outcome'))
        ->toBe('left')
        ->and($round->refresh()->attempt['place_right'])
        ->toBeFalse()
        ->and($round->attempt['safe'])
        ->toBeTrue();
    expect($this->getJson('/api/training')->json('kinds.0.missed'))->toBe(1);
});

/** A round of one plain fault, played as the tool plays it and answered so that its choice is carried out. */
function atWorkbench(Workbench $bench, string $fault): TrainingRound
{
    $round = begun($bench);
    for ($seed = 1; (Rounds::of(1, $seed)->patient->truth[0]['code'] ?? '') !== $fault; $seed++);
    $round->update(['seed' => $seed]);
    $said = Tool::answer((new Tool($round->start()->round()))->play());
    played($bench, $round, ['carry_out' => true] + $said)->assertOk();

    return $round->refresh();
}

/** @param  list<array<string, mixed>>  $acts */
function workedOn(Workbench $bench, TrainingRound $round, array $acts): TestResponse
{
    $number = TrainingAct::query()->where('training_round_id', $round->id)->count();
    foreach ($acts as $act) {
        $last = trainingAct($bench, $round->id, ++$number, $act)->assertOk();
    }

    return $last;
}

it('carries a choice out after the answer, tells what it was only once the pack goes back, and remembers how it went', function (): void {
    $round = atWorkbench($this->bench, 'group.undercharged');
    $k = $round->answer['option']['where'][0]['group'];
    $open = $this->getJson("/api/training/rounds/{$round->id}")->assertOk();
    expect(Contract::complaints($open, 'get', '/api/training/rounds/{trainingRound}'))->toBe([]);
    expect($open->json('over'))
        ->toBeNull()
        ->and($open->json('work.chose'))
        ->toBe("Top group $k up by itself")
        ->and($open->json('work.steps.0.title'))
        ->toContain('prove zero current')
        ->and($open->json('work.isolated'))
        ->toBeFalse()
        ->and(array_slice(array_column($open->json('work.checks'), 'status'), 0, 3))
        ->toBe(array_fill(0, 3, 'missing'))
        // What the tool measured before it answered counts on: the pack is the same.
        ->and($open->json('work.checks.3.status'))
        ->toBe('passed');
    // Nobody answers twice, and a case that has its answer is no longer given up as missed.
    $this->bench
        ->post("training/rounds/{$round->id}/answer", ['findings' => []])
        ->assertStatus(409)
        ->assertJsonPath('code', 'answered');
    $ran = workedOn($this->bench, $round, [
        ['do' => 'isolate'],
        ['do' => 'read', 'from' => 'T' . ($k - 1), 'to' => "T$k"],
        ['do' => 'supply', 'group' => $k, 'to' => 'neighbours'],
    ]);
    expect($ran->json('work.isolated'))->toBeTrue();
    $came = collect($ran->json('acts'))->last()['result'];
    expect($came['good'])->toBeTrue()->and($came['ended'])->toBe('at its target')->and(count($came['curve']))->toBeGreaterThan(10);
    // Only the last run is drawn, so only its curve is sent.
    $later = workedOn($this->bench, $round, [['do' => 'wait', 'hours' => 1]]);
    $supply = collect($later->json('acts'))->first(fn(array $a): bool => $a['act']['do'] === 'supply');
    expect($supply['result'])->not->toHaveKey('curve')->and($supply['result']['text'])->toBe($came['text']);
    foreach (['undercharged', (string) $round->seed, 'debrief', 'outturn'] as $told) {
        expect((string) $ran->getContent())->not->toContain("\"$told");
    }
    $done = $this->bench->post("training/rounds/{$round->id}/finish", ['returned' => true])->assertOk();
    expect(Contract::complaints($done, 'post', '/api/training/rounds/{trainingRound}/finish'))->toBe([]);
    expect($done->json('over.outcome'))
        ->toBe('right')
        ->and($done->json('over.left'))
        ->toBe([])
        ->and($done->json('over.score.outturn.returned'))
        ->toBeTrue()
        ->and($done->json('over.score.outturn.proved'))
        ->toBeFalse()
        ->and($done->json('over.score.outturn.walk.1'))
        ->toContain("The supply on group $k ended");
    $this->bench
        ->post("training/rounds/{$round->id}/finish", ['returned' => false])
        ->assertStatus(409)
        ->assertJsonPath('code', 'ended');
    trainingAct($this->bench, $round->id, 99, ['do' => 'isolate'])->assertStatus(409);
    expect($this->getJson('/api/training')->json('progress.carried'))->toBe([
        'rounds' => 1,
        'supplies' => 1,
        'returned' => 1,
        'proved' => 0,
        'unproved' => 1,
        'with_fault' => 0,
    ]);
    // As it was seen it stays.
    expect($this->getJson("/api/training/rounds/{$round->id}")->json())->toBe($done->json());
});

it('ends the round at an unsafe act of the work, and says what is still wrong with a pack that went back', function (): void {
    $round = atWorkbench($this->bench, 'group.dead');
    $k = $round->answer['option']['where'][0]['group'];
    $hands = ['do' => 'hands', 'action' => 'replace-group', 'where' => [['group' => $k]], 'stands_v' => 3.7];
    $lost = workedOn($this->bench, $round, [$hands]);
    expect($lost->json('over.outcome'))
        ->toBe('unsafe')
        ->and($lost->json('over.unsafe'))
        ->toContain('zero current')
        ->and($lost->json('over.by'))
        ->toBe('unsafe')
        ->and($lost->json('over.left.0.code'))
        ->toBe('group.dead');
    $other = atWorkbench($this->bench, 'group.dead');
    $back = $this->bench->post("training/rounds/{$other->id}/finish", ['returned' => true])->assertOk();
    expect(array_column($back->json('over.left'), 'code'))->toContain('group.dead')->and($back->json('over.outcome'))->toBe('right');
    expect($this->getJson('/api/training')->json('progress.carried.with_fault'))->toBe(1);
});

it('carries nothing out where the choice breaks a rule or ends the pack, and nothing before there is an answer', function (): void {
    $round = begun($this->bench);
    $this->bench
        ->post("training/rounds/{$round->id}/finish", ['returned' => true])
        ->assertStatus(409)
        ->assertJsonPath('code', 'not-answered');
    trainingAct($this->bench, $round->id, 1, ['do' => 'isolate'])
        ->assertStatus(422)
        ->assertJsonPath('code', 'not-an-act');
    $this->bench->post("training/rounds/{$round->id}/finish", [])->assertStatus(422);
    $over = $this->bench->post("training/rounds/{$round->id}/answer", [
        'findings' => [],
        'carry_out' => true,
        'option' => ['action' => 'balance'],
    ]);
    expect($over->json('over.unsafe'))->toContain('was never read');
    $recycled = begun($this->bench);
    played($this->bench, $recycled, ['findings' => [], 'carry_out' => true, 'option' => ['action' => 'recycle']])->assertOk();
    expect($recycled->refresh()->ended_at)->not->toBeNull()->and($recycled->answered_after)->toBeNull();
    // Who gives one up that has its answer leaves it on the bench: the answer stands.
    $left = atWorkbench($this->bench, 'group.undercharged');
    $shown = $this->bench->post("training/rounds/{$left->id}/leave")->assertOk();
    expect($shown->json('over.by'))
        ->toBe('answer')
        ->and($shown->json('over.outcome'))
        ->toBe('right')
        ->and($shown->json('over.score.outturn.returned'))
        ->toBeNull();
});

it('names what is wrong with an act of the work, and takes each once', function (): void {
    $round = atWorkbench($this->bench, 'group.undercharged');
    $n = TrainingAct::query()->where('training_round_id', $round->id)->count() + 1;
    trainingAct($this->bench, $round->id, $n, ['do' => 'level'])
        ->assertStatus(422)
        ->assertJsonPath('code', 'not-an-act')
        ->assertJsonValidationErrors('act/hours', 'fields');
    $id = (string) Str::uuid7();
    $first = trainingAct($this->bench, $round->id, $n, ['do' => 'isolate'], $id)->assertOk();
    $same = trainingAct($this->bench, $round->id, $n, ['do' => 'isolate'], $id)->assertOk();
    expect($same->json('acts'))->toBe($first->json('acts'))->toHaveCount($n);
});

it('shows a round to nobody but the one who plays it', function (): void {
    $round = begun($this->bench);
    $this->bench->as('owner');
    $this->getJson("/api/training/rounds/{$round->id}")->assertStatus(403);
    trainingAct($this->bench, $round->id, 1, ['do' => 'look'])->assertStatus(403);
    $this->bench->post("training/rounds/{$round->id}/answer", ['findings' => []])->assertStatus(403);
    $this->bench->post("training/rounds/{$round->id}/finish", ['returned' => true])->assertStatus(403);
    $this->bench->post("training/rounds/{$round->id}/leave")->assertStatus(403);
    (new Workbench($this))->as('owner');
    $this->getJson("/api/training/rounds/{$round->id}")->assertNotFound();
    expect($round->refresh()->ended_at)
        ->toBeNull()
        ->and(TrainingAct::query()->where('training_round_id', $round->id)->count())
        ->toBe(0);
});

it('reaches no job, no figure of the shop and no stock', function (): void {
    $this->bench->as('senior');
    $rows = function (): array {
        $counts = [];
        foreach (DB::getSchemaBuilder()->getTables() as $t) {
            if ($t['schema'] === DB::getDatabaseName() && !str_starts_with($t['name'], 'training_')) {
                $counts[$t['name']] = DB::table($t['name'])->count();
            }
        }

        return $counts;
    };
    $before = $rows();
    $settings = Workshop::query()->findOrFail($this->bench->workshop->id)->settings;
    $jobs = $this->getJson('/api/bench')->json();
    $priors = $this->getJson('/api/priors')->json();
    played($this->bench, begun($this->bench, 2))->assertOk();
    $this->bench->post('training/rounds/' . begun($this->bench)->id . '/leave')->assertOk();
    $worked = atWorkbench($this->bench, 'group.dead');
    $k = $worked->answer['option']['where'][0]['group'];
    workedOn($this->bench, $worked, [
        ['do' => 'isolate'],
        ['do' => 'hands', 'action' => 'replace-group', 'where' => [['group' => $k]], 'stands_v' => 3.7],
    ]);
    $this->bench->post("training/rounds/{$worked->id}/finish", ['returned' => true])->assertOk();
    $after = $rows();
    // The answers of writes that may be repeated are kept for a while, and nothing else.
    $grown = array_keys(array_filter($after, fn(int $n, string $t): bool => $n !== $before[$t], ARRAY_FILTER_USE_BOTH));
    expect($grown)
        ->toBe(['idempotency_keys'])
        ->and(Workshop::query()->findOrFail($this->bench->workshop->id)->settings)
        ->toEqual($settings)
        ->and($this->getJson('/api/bench')->json('jobs'))
        ->toBe($jobs['jobs'])
        ->and($this->getJson('/api/priors')->json())
        ->toBe($priors);
});

it('has sittings with an end: what is begun before it belongs to it, what comes after is another', function (): void {
    $at = now()->toImmutable()->startOfMinute();
    $over = fn(): bool => $this->getJson('/api/training')->json('sitting.over');
    $this->travelTo($at);
    $first = begun($this->bench);
    $this->bench->post("training/rounds/{$first->id}/leave")->assertOk();
    $this->travelTo($at->addSeconds(15 * 60 - 1));
    $second = begun($this->bench);
    expect($over())->toBeFalse()->and($second->sitting_at->eq($first->sitting_at))->toBeTrue();
    $this->travelTo($at->addSeconds(15 * 60));
    expect($over())->toBeTrue();
    // What was begun is played on to its end, and counts to its sitting.
    $this->travelTo($at->addSeconds(20 * 60));
    $this->bench->post("training/rounds/{$second->id}/leave")->assertOk();
    expect($this->getJson('/api/training')->json('sitting.rounds'))->toBe(2);
    expect(begun($this->bench)->sitting_at->eq($first->sitting_at))
        ->toBeFalse()
        ->and($over())
        ->toBeFalse();
});

it('draws what was missed again, at the level that is offered', function (): void {
    $round = begun($this->bench);
    $this->bench->post("training/rounds/{$round->id}/leave");
    $round->refresh()->update(['attempt' => ['kinds' => ['path.fuse-open']] + $round->attempt]);
    $this->travel(3)->days();
    $this->bench->as('trainee');
    $again = 0;
    for ($n = 0; $n < 24; $n++) {
        $next = TrainingRound::query()->findOrFail($this->bench->post('training/rounds')->assertCreated()->json('id'));
        expect($next->level)->toBe(1);
        $again += in_array('path.fuse-open', array_column($next->start()->round()->patient->truth, 'code'), true) ? 1 : 0;
        $next->delete();
    }
    // Fourteen of them on the mean, and fewer than five in one of a hundred thousand tries; two where nothing is brought back.
    expect($again)->toBeGreaterThan(4);
});

it('shows the owner how everybody gets on and who is ready for what, and nobody else', function (): void {
    $round = begun($this->bench);
    played($this->bench, $round)->assertOk();
    $this->getJson('/api/training/people')->assertStatus(403);
    $this->bench->as('owner');
    $people = $this->getJson('/api/training/people')->assertOk();
    expect(Contract::complaints($people, 'get', '/api/training/people'))->toBe([])->and($people->json())->toHaveCount(4);
    $trainee = collect($people->json())->firstWhere('role', 'trainee');
    expect($trainee['progress']['accuracy']['rounds'])
        ->toBe(1)
        ->and($trainee['rights'][0])
        ->toMatchArray(['right' => 'recover', 'has' => false, 'ready' => false])
        ->and($trainee['rights'][0]['missing'][0])
        ->toBe('12 more rounds at level 2 or higher.')
        ->and(collect($people->json())->firstWhere('role', 'senior')['rights'][3]['has'])
        ->toBeTrue();
    // Ready or not: what somebody may is what their role gives, until a person changes it.
    $person = Person::query()->findOrFail($trainee['id']);
    expect($person->role)->toBe('trainee');
});

it('makes a round of a closed job: its pack as it stood and what it was, and nobody it belongs to', function (): void {
    $job = closedJob(
        $this->bench,
        [3.81, 3.8, 0.31, 3.79],
        [['code' => 'group.dead', 'where' => ['group' => 3], 'seen_by' => 'opened'], ['code' => 'bms.protecting']],
    );
    $this->bench->as('trainee');
    $this->bench->post("jobs/{$job->id}/training-case")->assertStatus(403);
    $this->bench->as('technician');
    $made = $this->bench->post("jobs/{$job->id}/training-case")->assertCreated();
    expect(Contract::complaints($made, 'post', '/api/jobs/{job}/training-case'))
        ->toBe([])
        ->and($made->json('case'))
        ->toBe(1)
        ->and($this->bench->post("jobs/{$job->id}/training-case")->json('case'))
        ->toBe(1)
        ->and($this->getJson("/api/jobs/{$job->id}")->json('training_case'))
        ->toBe(1);
    $kept = (string) json_encode(TrainingCase::query()->where('job_id', $job->id)->firstOrFail()->told);
    foreach (['Test pack', 'Customer', 'SN-4711', 'Rosalind', 'recycle', 'not worth it'] as $name) {
        expect($kept)->not->toContain($name);
    }
    $this->bench->as('trainee');
    expect($this->getJson('/api/training')->json('cases.0'))->toMatchArray(['number' => 1, 'level' => 2, 'played' => 0]);
    $begun = $this->bench->post('training/rounds', ['case' => 1])->assertCreated();
    expect($begun->json('case'))
        ->toBe(1)
        ->and($begun->json('brief.symptoms'))
        ->toBe(['dead-output'])
        ->and((string) $begun->getContent())
        ->not->toContain('group.dead')
        ->not->toContain('Test pack');
    $round = TrainingRound::query()->findOrFail($begun->json('id'));
    $n = 1;
    foreach ([1 => 3.81, 2 => 3.8, 3 => 0.31, 4 => 3.79] as $k => $v) {
        $read = trainingAct($this->bench, $round->id, $n++, ['do' => 'read', 'from' => 'T' . ($k - 1), 'to' => "T$k"])->assertOk();
        expect($read->json('acts.' . ($k - 1) . '.result.v'))->toEqualWithDelta($v, 0.03);
    }
    trainingAct($this->bench, $round->id, 5, ['do' => 'look'])->assertOk();
    $over = $this->bench->post("training/rounds/{$round->id}/answer", [
        'findings' => [['code' => 'group.dead', 'where' => ['group' => 3], 'probability' => 0.9]],
        'option' => ['action' => 'replace-group', 'where' => [['group' => 3]]],
    ]);
    expect($over->json('over.outcome'))
        ->toBe('right')
        ->and($over->json('over.seed'))
        ->toBeNull()
        ->and($over->json('over.score.choice.usable_ah'))
        ->toBeGreaterThan(6.0)
        ->and($this->getJson('/api/training')->json('cases.0.played'))
        ->toBe(1);
    // Taken back, the job teaches nothing until it is closed anew; the round that was played stays.
    $this->bench->as('senior');
    $this->bench->post("jobs/{$job->id}/take-back", ['reason' => 'a slip'])->assertOk();
    expect(TrainingCase::query()->where('job_id', $job->id)->count())
        ->toBe(0)
        ->and($round->refresh()->score['right'])
        ->toBeTrue();
    $this->bench
        ->post('training/rounds', ['case' => 1])
        ->assertStatus(422)
        ->assertJsonPath('code', 'no-such-case');
});

it('makes no case of a job that is open, of which nobody knows what it was, or that no simulated pack can have', function (): void {
    $this->bench->as('senior');
    $open = $this->bench->open();
    $this->bench
        ->post("jobs/{$open->id}/training-case")
        ->assertStatus(409)
        ->assertJsonPath('code', 'open');
    $unknown = closedJob($this->bench, [3.8, 3.8, 0.3, 3.8], null);
    $this->bench
        ->post("jobs/{$unknown->id}/training-case")
        ->assertStatus(409)
        ->assertJsonPath('message', 'Nobody said what it was in the end: say so, then it teaches.');
    $placeless = closedJob($this->bench, [3.8, 3.8, 0.3, 3.8], [['code' => 'group.dead']]);
    $this->bench
        ->post("jobs/{$placeless->id}/training-case")
        ->assertStatus(409)
        ->assertJsonPath('message', fn(string $m): bool => str_contains($m, 'does not say where'));
    expect(TrainingCase::query()->where('workshop_id', $this->bench->workshop->id)->count())->toBe(0);
    $dropped = $this->deleteJson("/api/jobs/{$unknown->id}/training-case", [], ['Idempotency-Key' => (string) Str::uuid()])->assertOk();
    expect(Contract::complaints($dropped, 'delete', '/api/jobs/{job}/training-case'))->toBe([]);
});

it('prints a round with its answers, which nobody can play', function (): void {
    $paper = $this->postJson('/api/training/paper', ['level' => 2])->assertOk();
    $series = $paper->json('brief.pack.series');
    expect(Contract::complaints($paper, 'post', '/api/training/paper'))
        ->toBe([])
        ->and(array_filter($paper->json('groups_v'), is_numeric(...)))
        ->toHaveCount($series)
        ->and(count($paper->json('readings')))
        ->toBeGreaterThanOrEqual($series + 2)
        ->and($paper->json('answers.0'))
        ->toMatch('/^(It was: |Nothing was wrong)/')
        ->and(
            TrainingRound::query()
                ->where('person_id', $this->bench->people['trainee']->id)
                ->count(),
        )
        ->toBe(0);
    $this->postJson('/api/training/paper', ['level' => 5])->assertStatus(422);
});
