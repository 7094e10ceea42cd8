<?php

declare(strict_types=1);

use App\Demo\DemoWorkshop;
use App\Models\Invitation;
use App\Models\Person;
use App\Models\SignIn;
use App\Security\Attempts;
use App\Security\PasswordRule;
use App\Security\Secrets;
use App\Security\SecurityEvent;
use App\Security\Totp;
use Carbon\Carbon;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Hash;
use Illuminate\Support\Str;
use Illuminate\Testing\TestResponse;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

const GOOD_PASSWORD = 'lantern orchard ferry';

beforeEach(function (): void {
    $this->bench = new Workbench($this);
    $this->owner = $this->bench->people['owner'];
    $this->technician = $this->bench->people['technician'];
});

afterEach(function (): void {
    Carbon::setTestNow();
    CarbonImmutable::setTestNow();
});

/** Signs in at the door itself, in a browser of its own. */
function enter(mixed $test, string $email, string $password, array $more = []): TestResponse
{
    leave($test);

    return $test->postJson('/api/session', ['email' => $email, 'password' => $password] + $more);
}

function leave(mixed $test): void
{
    app('auth')->forgetGuards();
    app('session')->flush();
}

function keyed(): array
{
    return ['Idempotency-Key' => (string) Str::uuid()];
}

/** @return list<string> kinds of the security log of a workshop, in order */
function securityKinds(int $workshop): array
{
    return DB::table('security_events')->where('workshop_id', $workshop)->orderBy('id')->pluck('kind')->all();
}

it('opens a workshop with a set-up code from the console, once', function (): void {
    Artisan::call('heartwood:setup-code');
    preg_match('/set-up code  (\S+)/', Artisan::output(), $m);
    $form = [
        'setup_code' => $m[1],
        'workshop' => 'Kiln Lane Bench',
        'name' => 'Orla Penn',
        'email' => ' Orla@Kiln.example ',
        'password' => GOOD_PASSWORD,
    ];
    leave($this);
    $this->postJson('/api/start', ['setup_code' => 'AAAA-AAAA-AAAA-AAAA'] + $form)
        ->assertStatus(422)
        ->assertJsonPath('code', 'no-setup-code');
    $this->postJson('/api/start', ['password' => 'short'] + $form)
        ->assertStatus(422)
        ->assertJsonPath('fields.password', fn(string $why): bool => str_contains($why, '12 characters'));
    $this->postJson('/api/start', $form)
        ->assertStatus(201)
        ->assertJsonPath('signed_in.role', 'owner')
        ->assertJsonPath('signed_in.workshop.demo', false);
    $this->getJson('/api/bench')->assertOk()->assertJsonPath('jobs', []);
    expect(Person::query()->where('email', 'orla@kiln.example')->exists())->toBeTrue();
    $this->postJson('/api/start', ['email' => 'second@kiln.example'] + $form)
        ->assertStatus(422)
        ->assertJsonPath('code', 'no-setup-code');
});

it('forgets a set-up code when its time is over', function (): void {
    Artisan::call('heartwood:setup-code');
    preg_match('/set-up code  (\S+)/', Artisan::output(), $m);
    Carbon::setTestNow(now()->addHours(24)->subSecond());
    $this->postJson('/api/start', [
        'setup_code' => $m[1],
        'workshop' => 'W',
        'name' => 'N',
        'email' => 'n@w.example',
        'password' => 'short',
    ])->assertJsonPath('code', 'weak-password');
    Carbon::setTestNow(now()->addSeconds(2));
    $this->postJson('/api/start', [
        'setup_code' => $m[1],
        'workshop' => 'W',
        'name' => 'N',
        'email' => 'n@w.example',
        'password' => GOOD_PASSWORD,
    ])
        ->assertStatus(422)
        ->assertJsonPath('code', 'no-setup-code');
});

it('invites by a code that is kept only as its hash, good once and for its days', function (): void {
    $this->bench->as('owner');
    $made = $this->bench->post('invitations', ['name' => 'Wren Holt', 'role' => 'trainee'])->assertStatus(201);
    expect(Contract::complaints($made, 'post', '/api/invitations'))->toBe([]);
    $secret = (string) $made->json('secret');
    expect(
        DB::table('invitations')
            ->where('secret_hash', 'like', "%$secret%")
            ->exists(),
    )
        ->toBeFalse()
        ->and(Invitation::query()->latest('id')->first()->secret_hash)
        ->toBe(Secrets::hash(strtolower(str_replace('-', ' ', $secret))));
    leave($this);
    $this->postJson('/api/join/look', ['secret' => 'XXXX-XXXX-XXXX-XXXX'])
        ->assertStatus(422)
        ->assertJsonPath('code', 'no-invitation');
    $looked = $this->postJson('/api/join/look', ['secret' => $secret])
        ->assertOk()
        ->assertJsonPath('workshop', 'Test bench')
        ->assertJsonPath('role', 'trainee');
    expect(Contract::complaints($looked, 'post', '/api/join/look'))->toBe([]);
    $this->postJson('/api/join', ['secret' => $secret, 'email' => 'wren@bench.example', 'password' => 'wren wren wren'])
        ->assertStatus(422)
        ->assertJsonPath('code', 'weak-password');
    $this->postJson('/api/join', ['secret' => $secret, 'email' => 'wren@bench.example', 'password' => GOOD_PASSWORD])
        ->assertStatus(201)
        ->assertJsonPath('signed_in.name', 'Wren Holt')
        ->assertJsonPath('signed_in.role', 'trainee');
    $this->postJson('/api/join', ['secret' => $secret, 'email' => 'other@bench.example', 'password' => GOOD_PASSWORD])
        ->assertStatus(422)
        ->assertJsonPath('code', 'no-invitation');
    expect(enter($this, 'WREN@bench.example', GOOD_PASSWORD)->status())->toBe(200);
});

it('ends an invitation with its days, and by being withdrawn', function (): void {
    $this->bench->as('owner');
    $old = $this->bench->post('invitations', ['name' => 'A', 'role' => 'senior'])->json('secret');
    $gone = $this->bench->post('invitations', ['name' => 'B', 'role' => 'senior']);
    $this->deleteJson('/api/invitations/' . $gone->json('id'), [], keyed())
        ->assertOk()
        ->assertJsonCount(1, 'invitations');
    $this->postJson('/api/join/look', ['secret' => $gone->json('secret')])->assertStatus(422);
    Carbon::setTestNow(now()->addDays(3)->subSecond());
    $this->postJson('/api/join/look', ['secret' => $old])->assertOk();
    Carbon::setTestNow(now()->addSeconds(2));
    $this->postJson('/api/join/look', ['secret' => $old])->assertStatus(422);
});

it('resets a password by the hands of the person, and ends every session of theirs', function (): void {
    enter($this, $this->technician->email, 'secret-word')->assertOk();
    $open = SignIn::query()->where('person_id', $this->technician->id)->whereNull('ended_at')->count();
    $this->bench->as('owner');
    $secret = $this->bench
        ->post("people/{$this->technician->id}/reset")
        ->assertStatus(201)
        ->json('secret');
    leave($this);
    $this->postJson('/api/join', ['secret' => $secret, 'password' => GOOD_PASSWORD])->assertStatus(201);
    expect($open)
        ->toBe(1)
        ->and(SignIn::query()->where('person_id', $this->technician->id)->where('why', 'password')->count())
        ->toBe(1)
        ->and(enter($this, $this->technician->email, 'secret-word')->status())
        ->toBe(422)
        ->and(enter($this, $this->technician->email, GOOD_PASSWORD)->status())
        ->toBe(200);
});

it('disables at once, in the middle of a session, and lets in again', function (): void {
    enter($this, $this->technician->email, 'secret-word')->assertOk();
    $this->getJson('/api/bench')->assertOk();
    $this->technician->refresh()->update(['active' => false]);
    app('auth')->forgetGuards();
    $this->getJson('/api/bench')->assertStatus(401)->assertJsonPath('message', fn(string $m): bool => str_contains($m, 'disabled'));
    expect(enter($this, $this->technician->email, 'secret-word')->status())->toBe(422);
    $this->technician->update(['active' => true]);
    expect(enter($this, $this->technician->email, 'secret-word')->status())->toBe(200);
});

it('lets an owner change role and standing, on the version that was read, and keeps one owner', function (): void {
    $this->bench->as('owner');
    $listed = $this->getJson('/api/people')->assertOk();
    expect(Contract::complaints($listed, 'get', '/api/people'))->toBe([]);
    $of = fn(Person $p): string => collect($this->getJson('/api/people')->json('people'))->firstWhere('id', $p->id)['version'];
    $patch = fn(Person $p, array $body, ?string $version) => $this->patchJson(
        "/api/people/{$p->id}",
        $body,
        keyed() + ($version === null ? [] : ['If-Match' => $version]),
    );
    $patch($this->technician, ['role' => 'senior'], null)
        ->assertStatus(428)
        ->assertJsonPath('code', 'no-version');
    $first = $of($this->technician);
    $patch($this->technician, ['role' => 'senior'], $first)->assertOk();
    $clash = $patch($this->technician, ['role' => 'trainee'], $first)
        ->assertStatus(412)
        ->assertJsonPath('code', 'clash')
        ->assertJsonPath('now.role', 'senior');
    expect(Contract::complaints($clash, 'patch', '/api/people/{colleague}'))->toBe([]);
    $patch($this->owner, ['role' => 'senior'], $of($this->owner))
        ->assertStatus(409)
        ->assertJsonPath('code', 'last-owner');
    $patch($this->owner, ['active' => false], $of($this->owner))
        ->assertStatus(409)
        ->assertJsonPath('code', 'last-owner');
    $patch($this->technician, ['active' => false], $of($this->technician))->assertOk();
    $patch(
        $this->technician,
        ['competence' => [['what' => 'Spot welding', 'note' => 'alone', 'at' => '2026-03-02']]],
        $of($this->technician),
    )->assertOk();
    expect(securityKinds($this->bench->workshop->id))
        ->toContain('role-changed', 'person-disabled', 'person-edited')
        ->and($this->technician->refresh()->competence[0]['what'])
        ->toBe('Spot welding');
});

it('signs in with e-mail in any case, and says the same of a wrong password and of nobody', function (): void {
    expect(enter($this, strtoupper($this->technician->email), 'secret-word')->status())->toBe(200);
    $wrong = enter($this, $this->technician->email, 'not this one');
    $nobody = enter($this, 'nobody@nowhere.example', 'not this one');
    expect($wrong->status())
        ->toBe(422)
        ->and($nobody->status())
        ->toBe(422)
        ->and(array_diff_key($wrong->json(), ['request' => 1]))
        ->toBe(array_diff_key($nobody->json(), ['request' => 1]));
});

it('works as long for nobody as for somebody', function (): void {
    // Counted, not timed: each answer has looked at one hash.
    $hashes = 0;
    Hash::shouldReceive('make')->andReturn('of nobody');
    Hash::shouldReceive('check')->andReturnUsing(function () use (&$hashes): bool {
        $hashes++;

        return false;
    });
    enter($this, $this->technician->email, 'x')->assertStatus(422);
    enter($this, 'nobody@nowhere.example', 'x')->assertStatus(422);
    $this->technician->update(['active' => false]);
    enter($this, $this->technician->email, 'x')->assertStatus(422);
    expect($hashes)->toBe(3);
});

it('holds an account off after its failures, whatever the case of its name, and lets it in when the window has passed', function (): void {
    for ($n = 0; $n < 10; $n++) {
        enter($this, $n % 2 ? strtoupper($this->technician->email) : " {$this->technician->email} ", 'wrong')->assertStatus(422);
    }
    enter($this, $this->technician->email, 'secret-word')
        ->assertStatus(429)
        ->assertJsonPath('code', 'too-many')
        ->assertHeader('Retry-After');
    expect(enter($this, $this->owner->email, 'secret-word')->status())->toBe(200);
    Carbon::setTestNow(now()->addMinutes(15)->subSeconds(20));
    enter($this, $this->technician->email, 'secret-word')->assertStatus(429);
    Carbon::setTestNow(now()->addSeconds(21));
    expect(enter($this, $this->technician->email, 'secret-word')->status())
        ->toBe(200)
        ->and(securityKinds($this->bench->workshop->id))
        ->toContain('sign-in-throttled');
});

it('lets the last try of the window through', function (): void {
    for ($n = 0; $n < 9; $n++) {
        enter($this, $this->technician->email, 'wrong');
    }
    expect(enter($this, $this->technician->email, 'secret-word')->status())
        ->toBe(200)
        ->and(DB::table('sign_in_attempts')->where('account', Attempts::account($this->technician->email))->exists())
        ->toBeFalse();
});

it('holds an address off that tries many accounts', function (): void {
    for ($n = 0; $n < 40; $n++) {
        enter($this, "guess$n@nowhere.example", 'wrong')->assertStatus(422);
    }
    enter($this, 'one-more@nowhere.example', 'wrong')->assertStatus(429);
    enter($this, $this->owner->email, 'secret-word')->assertStatus(429);
});

it('ends a session that nobody touches, and one that is too old, whatever is done in it', function (): void {
    enter($this, $this->technician->email, 'secret-word')->assertOk();
    $at = fn(int $seconds) => Carbon::setTestNow(CarbonImmutable::parse($this->start)->addSeconds($seconds));
    $this->start = now()->toIso8601String();
    $idle = 60 * 30;
    $at($idle - 30);
    $this->getJson('/api/bench', ['X-Heartwood-Quiet' => '1'])->assertOk();
    $at($idle + 30);
    $this->getJson('/api/bench')->assertStatus(401)->assertJsonPath('message', fn(string $m): bool => str_contains($m, 'without a touch'));
    Carbon::setTestNow();
    enter($this, $this->technician->email, 'secret-word')->assertOk();
    $this->start = now()->toIso8601String();
    for ($minutes = 20; $minutes < 60 * 12; $minutes += 20) {
        $at(60 * $minutes);
        $this->getJson('/api/session')->assertOk();
    }
    $at(3600 * 12 + 1);
    $this->getJson('/api/session')->assertStatus(401)->assertJsonPath('message', fn(string $m): bool => str_contains($m, '12 hours'));
});

it('keeps no cookie that outlives the session', function (): void {
    $cookies = enter($this, $this->technician->email, 'secret-word')->headers->getCookies();
    expect(array_filter($cookies, fn($c): bool => str_starts_with($c->getName(), 'remember_')))
        ->toBe([])
        ->and($this->technician->refresh()->remember_token)
        ->toBeNull();
});

it('ends the other sessions with the password, and wants the old one', function (): void {
    $other = SignIn::query()->create([
        'id' => (string) Str::uuid7(),
        'workshop_id' => $this->technician->workshop_id,
        'person_id' => $this->technician->id,
        'how' => 'password',
        'opened_at' => now(),
        'started_at' => now(),
        'seen_at' => now(),
    ]);
    $this->bench->as('technician');
    $this->postJson('/api/me/password', ['current' => 'wrong', 'password' => GOOD_PASSWORD])
        ->assertStatus(422)
        ->assertJsonPath('fields.current', fn(string $m): bool => $m !== '');
    $this->postJson('/api/me/password', ['current' => 'secret-word', 'password' => 'password12345'])
        ->assertStatus(422)
        ->assertJsonPath('code', 'weak-password');
    $this->postJson('/api/me/password', ['current' => 'secret-word', 'password' => GOOD_PASSWORD])->assertOk();
    expect($other->refresh()->why)->toBe('password')->and(Hash::check(GOOD_PASSWORD, $this->technician->refresh()->password))->toBeTrue();
    $this->getJson('/api/session')->assertOk();
});

it('lists and ends own sessions, and nobody else\'s', function (): void {
    $other = SignIn::query()->create([
        'id' => (string) Str::uuid7(),
        'workshop_id' => $this->technician->workshop_id,
        'person_id' => $this->technician->id,
        'how' => 'password',
        'opened_at' => now(),
        'started_at' => now(),
        'seen_at' => now(),
    ]);
    $this->bench->as('technician');
    $list = $this->getJson('/api/sessions')->assertOk()->assertJsonCount(2, 'sessions');
    expect(Contract::complaints($list, 'get', '/api/sessions'))->toBe([]);
    $this->deleteJson("/api/sessions/{$other->id}")
        ->assertOk()
        ->assertJsonCount(1, 'sessions');
    $this->bench->as('owner');
    $theirs = SignIn::query()->where('person_id', $this->technician->id)->whereNull('ended_at')->value('id');
    $this->deleteJson("/api/sessions/$theirs")->assertNotFound();
});

it('takes a password by its length, not by its kinds of letters, and refuses what is tried first', function (
    string $password,
    ?string $says,
): void {
    $why = PasswordRule::refuses($password, ['Orla Penn', 'orla@kiln.example', 'Kiln Lane Bench']);
    $says === null ? expect($why)->toBeNull() : expect($why)->toContain($says);
})->with([
    'eleven' => ['lanternfern', '12 characters'],
    'twelve' => ['lantern fern', null],
    'plain words' => ['lantern orchard ferry', null],
    'of another script' => ['фонарь яблоко паром', null],
    'as long as may be' => [str_repeat('lantern x', 14) . 'ab', null],
    'too long' => [str_repeat('lantern x', 14) . 'abc', 'at most 128'],
    'common with digits' => ['password12345', 'tried first'],
    'common twice' => ['sunshinesunshine', 'tried first'],
    'common in capitals' => ['PASSWORD!!!!!', 'tried first'],
    'one letter' => ['aaaaaaaaaaaaaa', 'again'],
    'a run' => ['abcdefghijklmno', 'again'],
    'the demo\'s own' => [DemoWorkshop::PASSWORD, 'demo'],
    'own name' => ['orla penn kiln', 'your own name'],
    'own name within more' => ['orla eats seven plums', null],
]);

it('gives the codes of RFC 6238, appendix B', function (int $time, string $hash, string $key, string $code): void {
    expect(Totp::at($key, intdiv($time, 30), 8, $hash))->toBe($code);
})->with(function (): array {
    $keys = [
        'sha1' => '12345678901234567890',
        'sha256' => '12345678901234567890123456789012',
        'sha512' => '1234567890123456789012345678901234567890123456789012345678901234',
    ];
    $table = [
        [59, '94287082', '46119246', '90693936'],
        [1111111109, '07081804', '68084774', '25091201'],
        [1111111111, '14050471', '67062674', '99943326'],
        [1234567890, '89005924', '91819424', '93441116'],
        [2000000000, '69279037', '90698825', '38618901'],
        [20000000000, '65353130', '77737706', '47863826'],
    ];
    $out = [];
    foreach ($table as [$time, $one, $two, $five]) {
        array_push(
            $out,
            [$time, 'sha1', $keys['sha1'], $one],
            [$time, 'sha256', $keys['sha256'], $two],
            [$time, 'sha512', $keys['sha512'], $five],
        );
    }

    return $out;
});

it('writes secrets in the base32 of RFC 4648', function (string $plain, string $coded): void {
    expect(Totp::encode($plain))->toBe($coded)->and(Totp::decode($coded))->toBe($plain);
})->with([['f', 'MY'], ['fo', 'MZXQ'], ['foo', 'MZXW6'], ['foob', 'MZXW6YQ'], ['fooba', 'MZXW6YTB'], ['foobar', 'MZXW6YTBOI']]);

it('takes a code of the step before, now and after, each once', function (int $off, bool $taken): void {
    $secret = Totp::secret();
    $now = 1_800_000_010;
    $code = Totp::at(Totp::decode($secret), intdiv($now, 30) + $off);
    $step = Totp::step($secret, $code, $now, 0);
    expect($step !== null)->toBe($taken);
    if ($step !== null) {
        expect(Totp::step($secret, $code, $now, $step))->toBeNull();
    }
})->with([[-2, false], [-1, true], [0, true], [1, true], [2, false]]);

it('sets a second factor up, asks for it at the door, takes no code twice, and takes a recovery code once', function (): void {
    $this->bench->as('owner');
    $begun = $this->bench->post('me/second-factor')->assertOk();
    $code = fn(int $steps = 0): string => Totp::at(
        Totp::decode((string) $begun->json('secret')),
        intdiv(now()->getTimestamp(), 30) + $steps,
    );
    expect($begun->json('uri'))
        ->toStartWith('otpauth://totp/Heartwood:')
        ->and(DB::table('people')->where('id', $this->owner->id)->value('totp_secret'))
        ->not->toContain($begun->json('secret'));
    $this->bench->post('me/second-factor/confirm', ['code' => '000000'])->assertStatus(422);
    $codes = $this->bench
        ->post('me/second-factor/confirm', ['code' => $code()])
        ->assertOk()
        ->json('recovery_codes');
    expect($codes)->toHaveCount(10);
    $door = fn(string $typed): TestResponse => enter($this, $this->owner->email, 'secret-word', ['code' => $typed]);
    expect(enter($this, $this->owner->email, 'secret-word')->json('code'))->toBe('second-factor');
    $door($code())->assertStatus(422);
    $door($code(1))->assertOk();
    $door($code(1))->assertStatus(422);
    $door(strtolower(' ' . $codes[0]))->assertOk();
    $door($codes[0])->assertStatus(422);
    // Without the password, a right code is nothing.
    enter($this, $this->owner->email, 'wrong', ['code' => $codes[1]])
        ->assertStatus(422)
        ->assertJsonPath('code', 'no-match');
    expect(securityKinds($this->bench->workshop->id))->toContain('second-factor-on', 'recovery-code-used');
});

it('counts wrong second factors with the failures of the account', function (): void {
    $this->owner->update(['totp_secret' => Totp::secret(), 'totp_since' => now()]);
    for ($n = 0; $n < 10; $n++) {
        enter($this, $this->owner->email, 'secret-word', ['code' => '12345' . $n % 10])->assertStatus(422);
    }
    enter($this, $this->owner->email, 'secret-word', ['code' => '999999'])->assertStatus(429);
});

it('lets an owner do nothing before the second factor that the shop wants', function (): void {
    $this->bench->workshop->update(['settings' => ['owner_second_factor' => true] + $this->bench->workshop->settings]);
    $this->owner->unsetRelation('workshop');
    $this->bench->as('owner');
    $this->getJson('/api/session')->assertOk()->assertJsonPath('second_factor_first', true);
    $this->getJson('/api/bench')->assertStatus(403)->assertJsonPath('code', 'second-factor-first');
    $begun = $this->bench->post('me/second-factor')->assertOk();
    $this->bench
        ->post('me/second-factor/confirm', [
            'code' => Totp::at(Totp::decode((string) $begun->json('secret')), intdiv(now()->getTimestamp(), 30)),
        ])
        ->assertOk();
    $this->owner->refresh();
    $this->getJson('/api/bench')->assertOk();
    $this->technician->unsetRelation('workshop');
    $this->bench->as('technician');
    $this->getJson('/api/bench')->assertOk();
});

it('hands the bench over by a personal code, ends the one before, and keeps the session\'s own end', function (): void {
    $this->technician->update(['code_hash' => Hash::make('583164')]);
    enter($this, $this->owner->email, 'secret-word')->assertOk();
    $opened = SignIn::query()->where('person_id', $this->owner->id)->latest('started_at')->first();
    Carbon::setTestNow(now()->addMinutes(20));
    $over = $this->postJson('/api/session/hand-over', ['person_id' => $this->technician->id, 'code' => '583164'])
        ->assertOk()
        ->assertJsonPath('id', $this->technician->id)
        ->assertJsonPath('how', 'code')
        ->assertJsonPath('proved_until', null);
    expect(Contract::complaints($over, 'post', '/api/session/hand-over'))->toBe([]);
    $now = SignIn::query()->where('person_id', $this->technician->id)->latest('started_at')->first();
    expect($opened->refresh()->why)->toBe('handed-over')->and($now->opened_at->equalTo($opened->opened_at))->toBeTrue();
    $this->getJson('/api/session')->assertJsonPath('name', 'Technician');
    // A screen of the one before does not act for the next.
    $this->getJson('/api/bench', ['X-Heartwood-Person' => (string) $this->owner->id])
        ->assertStatus(409)
        ->assertJsonPath('code', 'other-person');
    $this->getJson('/api/bench', ['X-Heartwood-Person' => (string) $this->technician->id])->assertOk();
});

it(
    'takes no code of somebody disabled, of another workshop, or of somebody who has none; and asks for the password after five',
    function (): void {
        $other = new Workbench($this);
        $other->people['senior']->update(['code_hash' => Hash::make('583164')]);
        $this->technician->update(['code_hash' => Hash::make('583164'), 'active' => false]);
        enter($this, $this->owner->email, 'secret-word')->assertOk();
        foreach ([$other->people['senior']->id, $this->technician->id, $this->bench->people['trainee']->id, 999999999] as $id) {
            $this->postJson('/api/session/hand-over', ['person_id' => $id, 'code' => '583164'])->assertStatus(422);
        }
        $this->technician->update(['active' => true]);
        $this->postJson('/api/session/hand-over', ['person_id' => $this->technician->id, 'code' => '111111'])->assertStatus(422);
        $this->postJson('/api/session/hand-over', ['person_id' => $this->technician->id, 'code' => '583164'])->assertStatus(429);
        expect(securityKinds($this->bench->workshop->id))->toContain('code-failed');
    },
);

it('wants the password proved for what is not undone easily, and a code does not prove it', function (): void {
    $this->owner->update(['code_hash' => Hash::make('402817')]);
    enter($this, $this->technician->email, 'secret-word')->assertOk();
    $this->postJson('/api/session/hand-over', ['person_id' => $this->owner->id, 'code' => '402817'])->assertOk();
    $this->getJson('/api/people')->assertOk();
    $this->postJson('/api/invitations', ['name' => 'A', 'role' => 'owner'], keyed())
        ->assertStatus(403)
        ->assertJsonPath('code', 'prove');
    $this->postJson('/api/session/prove', ['password' => 'wrong'])->assertStatus(422);
    $this->postJson('/api/session/prove', ['password' => 'secret-word'])
        ->assertOk()
        ->assertJsonPath('proved_until', fn(?string $t): bool => $t !== null);
    $this->postJson('/api/invitations', ['name' => 'A', 'role' => 'owner'], keyed())->assertStatus(201);
    Carbon::setTestNow(now()->addMinutes(15)->subSecond());
    $this->postJson('/api/invitations', ['name' => 'B', 'role' => 'owner'], keyed())->assertStatus(201);
    Carbon::setTestNow(now()->addSeconds(2));
    $this->postJson('/api/invitations', ['name' => 'C', 'role' => 'owner'], keyed())
        ->assertStatus(403)
        ->assertJsonPath('code', 'prove');
});

it('takes a personal code of six digits that is not tried first', function (string $code, bool $taken): void {
    $this->bench->as('technician');
    expect($this->bench->post('me/code', ['code' => $code])->status())->toBe($taken ? 200 : 422);
})->with([
    ['583164', true],
    ['58316', false],
    ['5831644', false],
    ['777777', false],
    ['123456', false],
    ['987654', false],
    ['58316a', false],
]);

it('keeps what secrets a repeated request would show only sealed', function (): void {
    $this->bench->as('owner');
    $key = (string) Str::uuid();
    $secret = $this->bench->post('invitations', ['name' => 'Wren', 'role' => 'trainee'], $key)->json('secret');
    expect($this->bench->post('invitations', ['name' => 'Wren', 'role' => 'trainee'], $key)->json('secret'))
        ->toBe($secret)
        ->and((string) DB::table('idempotency_keys')->where('key', $key)->value('response'))
        ->not->toContain((string) $secret)
        ->and(Invitation::query()->where('name', 'Wren')->count())
        ->toBe(1);
});

it('never has the demo\'s password or sign-ins in a real workshop', function (): void {
    DB::table('sessions')->delete();
    $without = $this->getJson('/api/door')->assertOk();
    expect(Contract::complaints($without, 'get', '/api/door'))->toBe([]);
    Artisan::call('heartwood:sign-ins');
    expect($without->json('demo'))->toBeNull()->and(Artisan::output())->not->toContain(DemoWorkshop::PASSWORD);
    (new DemoWorkshop(CarbonImmutable::now()))->load();
    Carbon::setTestNow();
    CarbonImmutable::setTestNow();
    $with = $this->getJson('/api/door')->assertOk()->assertJsonPath('demo.password', DemoWorkshop::PASSWORD);
    expect(array_column($with->json('demo.people'), 'email'))->toBe(array_column(DemoWorkshop::PEOPLE, 1));
    $this->bench->as('technician');
    $this->postJson('/api/me/password', ['current' => 'secret-word', 'password' => DemoWorkshop::PASSWORD])
        ->assertStatus(422)
        ->assertJsonPath('code', 'weak-password');
});

it('shows the security log to the owner alone, page by page, with a word for every kind', function (): void {
    enter($this, $this->technician->email, 'wrong');
    foreach (['senior', 'technician', 'trainee'] as $role) {
        $this->bench->as($role);
        $this->getJson('/api/security-log')->assertForbidden();
    }
    $this->bench->as('owner');
    for ($n = 0; $n < 65; $n++) {
        DB::table('security_events')->insert([
            'workshop_id' => $this->bench->workshop->id,
            'kind' => 'signed-in',
            'data' => '{}',
            'at' => now(),
        ]);
    }
    $page = $this->getJson('/api/security-log')->assertOk()->assertJsonCount(60, 'entries')->assertJsonPath('more', true);
    expect(Contract::complaints($page, 'get', '/api/security-log'))->toBe([]);
    $rest = $this->getJson('/api/security-log?before=' . $page->json('entries.59.id'))
        ->assertOk()
        ->assertJsonPath('more', false);
    expect(collect($rest->json('entries'))->pluck('words'))
        ->toContain('failed to sign in')
        ->and(count(array_unique(array_map(fn(SecurityEvent $e): string => $e->words(), SecurityEvent::cases()))))
        ->toBe(count(SecurityEvent::cases()));
    $other = new Workbench($this);
    $other->as('owner');
    expect($this->getJson('/api/security-log')->json('entries'))->toBe([]);
});

it('does not let the application\'s account alter the security log', function (): void {
    expect(App\Console\GrantCommand::APPEND_ONLY)->toContain('security_events');
    $id = DB::table('security_events')->insertGetId([
        'workshop_id' => $this->bench->workshop->id,
        'kind' => 'signed-in',
        'data' => '{}',
        'at' => now(),
    ]);
    expect(
        fn() => DB::table('security_events')
            ->where('id', $id)
            ->update(['kind' => 'x']),
    )->toThrow(Illuminate\Database\QueryException::class, 'denied');
});

it('signs out at once, also from a session that is over', function (): void {
    enter($this, $this->technician->email, 'secret-word')->assertOk();
    $this->deleteJson('/api/session')->assertOk();
    app('auth')->forgetGuards();
    $this->getJson('/api/session')->assertStatus(401);
    $this->deleteJson('/api/session')->assertOk();
    expect(SignIn::query()->where('person_id', $this->technician->id)->value('why'))->toBe('signed-out');
});
