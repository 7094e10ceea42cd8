<?php

declare(strict_types=1);

use App\Actions\OwnerMessages;
use App\Models\Customer;
use App\Models\Message;
use App\Models\MessageConsent;
use App\Models\Pack;
use App\Models\Workshop;
use App\StandIn\Mailbox;
use App\StandIn\SmtpTalk;
use Carbon\Carbon;
use Illuminate\Support\Facades\DB;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

// Messages to owners: prepared when something is due, sent to those alone who agreed, once.

beforeEach(function (): void {
    $this->bench = (new Workbench($this))->as('technician');
    /** A pack in service whose reading is due, of somebody with an address. */
    $this->due = function (string $email = 'ines@orchard.example'): Pack {
        $job = $this->bench->open();
        $job->update(['status' => 'returned', 'closed_at' => now()->subDays(12)]);
        App\Actions\KeepPack::of($job->refresh());
        Customer::query()
            ->whereKey($job->customer_id)
            ->update(['email' => $email, 'phone' => '0151 2345']);
        $pack = Pack::query()->findOrFail($job->refresh()->pack_id);
        $pack->update(['work_ended_at' => now()->subDays(12), 'watch_job_id' => $job->id]);
        App\Actions\KeepPack::refresh($pack);

        return $pack->refresh();
    };
    $this->shop = fn(): Workshop => Workshop::query()->findOrFail($this->bench->workshop->id);
    $this->prepare = fn(): int => (new OwnerMessages())->prepare(($this->shop)());
    $this->agree = fn(Pack $pack, string $kind, bool $agreed = true) => $this->bench->post("customers/{$pack->customer_id}/messages", [
        'kind' => $kind,
        'agreed' => $agreed,
        'how' => 'counter',
    ]);
    /** A simulated mail server for as long as the test lasts, as the shop's own. */
    $this->mailbox = function (array $more = []): string {
        $folder = sys_get_temp_dir() . '/mailbox-' . bin2hex(random_bytes(4));
        for ($port = 31900; @fsockopen('127.0.0.1', $port, timeout: 0.2) !== false; $port++);
        $this->server = proc_open(
            [PHP_BINARY, base_path('bin/mailbox.php'), (string) $port, $folder],
            [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w'], ['file', '/dev/null', 'w']],
            $pipes,
        );
        for ($n = 0; $n < 200 && @fsockopen('127.0.0.1', $port, timeout: 0.2) === false; $n++) {
            usleep(20_000);
        }
        config(['heartwood.mail_port' => $port]);
        $this->bench->workshop->update([
            'settings' => $more + [
                'mail_host' => '127.0.0.1',
                'mail_port' => $port,
                'mail_security' => 'none',
                'mail_sender' => 'bench@gannetquay.example',
            ],
        ]);

        return $folder;
    };
});
afterEach(function (): void {
    Carbon::setTestNow();
    if (isset($this->server)) {
        proc_terminate($this->server, 9);
        proc_close($this->server);
    }
});

it('prepares a text once when a reading is due, and lets it go when it was read', function (): void {
    $pack = ($this->due)();
    expect(($this->prepare)())->toBe(1)->and(($this->prepare)())->toBe(0);
    $seen = $this->getJson('/api/messages')->assertOk();
    expect(Contract::complaints($seen, 'get', '/api/messages'))
        ->toBe([])
        ->and($seen->json('open.0'))
        ->toMatchArray([
            'pack' => $pack->name,
            'kind' => 'overdue',
            'address' => 'ines@orchard.example',
            'agreed' => null,
            'state' => 'prepared',
        ])
        ->and($seen->json('open.0.body'))
        ->toContain(App\Read\Passport::code($pack->code))
        ->toContain($this->bench->workshop->name);
    $this->bench
        ->post("packs/{$pack->id}/readings", [
            'readings' => [
                [
                    'id' => (string) Illuminate\Support\Str::uuid7(),
                    'at' => now()->toIso8601ZuluString(),
                    'condition' => 'rest',
                    'groups_v' => [3.8, 3.8, 3.8, 3.8],
                ],
            ],
        ])
        ->assertCreated();
    ($this->prepare)();
    expect(Message::query()->firstOrFail())
        ->state->toBe('dropped')
        ->error->toBe('not due any more');
});

it('says that a reading is due, then that it is overdue, each once', function (): void {
    $pack = ($this->due)();
    Pack::query()
        ->whereKey($pack->id)
        ->update(['read_at' => now()->subDays(2), 'next_at' => now()->subDays(2)]);
    ($this->prepare)();
    Carbon::setTestNow(now()->addDays(6));
    ($this->prepare)();
    ($this->prepare)();
    expect(Message::query()->orderBy('id')->get()->map(fn(Message $m): string => "{$m->kind} {$m->state}")->all())->toBe([
        'reading-due dropped',
        'overdue prepared',
    ]);
});

it('sends nothing that nobody agreed to, and what was agreed to once only', function (): void {
    $folder = ($this->mailbox)();
    $pack = ($this->due)();
    ($this->prepare)();
    $message = Message::query()->firstOrFail();
    $this->bench
        ->post("messages/{$message->id}/send")
        ->assertStatus(409)
        ->assertJsonPath('code', 'not-agreed');
    // To something else they have agreed.
    ($this->agree)($pack, 'top-up')->assertOk();
    $this->bench->post("messages/{$message->id}/send")->assertStatus(409);
    $agreed = ($this->agree)($pack, 'overdue')->assertOk();
    expect($agreed->json('open.0.agreed'))
        ->toBeTrue()
        ->and(Contract::complaints($agreed, 'post', '/api/customers/{customer}/messages'))
        ->toBe([]);
    ($this->agree)($pack, 'overdue', false)->assertOk();
    $this->bench->post("messages/{$message->id}/send")->assertStatus(409);
    expect(Mailbox::letters($folder))->toBe([]);
    ($this->agree)($pack, 'overdue')->assertOk();
    $sent = $this->bench->post("messages/{$message->id}/send")->assertOk();
    expect($sent->json('done.0'))->toMatchArray(['state' => 'sent', 'address' => 'ines@orchard.example', 'by' => 'Technician']);
    $this->bench
        ->post("messages/{$message->id}/send")
        ->assertStatus(409)
        ->assertJsonPath('code', 'done');
    $letters = Mailbox::letters($folder);
    expect($letters)
        ->toHaveCount(1)
        ->and($letters[0]['to'])
        ->toBe(['ines@orchard.example'])
        ->and($letters[0]['from'])
        ->toBe('bench@gannetquay.example')
        ->and($letters[0]['subject'])
        ->toBe($message->subject)
        ->and(str_replace("\r", '', $letters[0]['body']))
        ->toContain('scan the code on its label');
    expect(MessageConsent::query()->count())->toBe(4);
});

it('sends by itself what the shop lets go by itself, to those alone who agreed', function (): void {
    $folder = ($this->mailbox)(['mail_overdue' => true]);
    [$yes, $no] = [($this->due)('yes@orchard.example'), ($this->due)('no@orchard.example')];
    Customer::query()
        ->whereKey($no->customer_id)
        ->update(['name' => 'Another']);
    $other = Customer::query()->create(['workshop_id' => $no->workshop_id, 'name' => 'Third', 'email' => 'no@orchard.example']);
    Pack::query()
        ->whereKey($no->id)
        ->update(['customer_id' => $other->id]);
    ($this->agree)($yes, 'overdue')->assertOk();
    $this->artisan('heartwood:messages --once')->assertSuccessful();
    $this->artisan('heartwood:messages --once')->assertSuccessful();
    expect(array_merge(...array_column(Mailbox::letters($folder), 'to')))->toBe(['no@orchard.example']);
    expect(Message::query()->where('pack_id', $no->id)->value('state'))->toBe('prepared');
});

it('keeps why a mail server did not take it, and tries again later', function (): void {
    $folder = ($this->mailbox)(['mail_overdue' => true]);
    $pack = ($this->due)('nobody@orchard.example');
    ($this->agree)($pack, 'overdue')->assertOk();
    $this->artisan('heartwood:messages --once')->assertSuccessful();
    $message = Message::query()->firstOrFail();
    expect($message)->state->toBe('prepared')->tries->toBe(1)->error->toContain('did not take it');
    Customer::query()
        ->whereKey($pack->customer_id)
        ->update(['email' => 'somebody@orchard.example']);
    $this->artisan('heartwood:messages --once');
    expect($message->refresh()->tries)->toBe(1);
    Carbon::setTestNow(now()->addMinutes(11));
    $this->artisan('heartwood:messages --once');
    expect($message->refresh())->state->toBe('sent')->and(Mailbox::letters($folder))->toHaveCount(1);
});

it('stops a pass at the first that no mail server takes, and sends a few at once, each in its turn', function (): void {
    $folder = ($this->mailbox)(['mail_overdue' => true]);
    $first = ($this->due)('nobody@orchard.example');
    ($this->agree)($first, 'overdue')->assertOk();
    ($this->prepare)();
    $row = Message::query()->firstOrFail()->getAttributes();
    $other = Customer::query()->create(['workshop_id' => $first->workshop_id, 'name' => 'Other', 'email' => 'yes@orchard.example']);
    $yes = ['kind' => 'overdue', 'agreed' => true, 'how' => 'counter'];
    $this->bench->post("customers/{$other->id}/messages", $yes)->assertOk();
    for ($i = 1; $i <= 7; $i++) {
        Message::query()->insert(['id' => $row['id'] + $i, 'customer_id' => $other->id, 'about' => "2026-01-0$i"] + $row);
    }
    $pass = fn(): int => (new OwnerMessages())->deliver(($this->shop)());
    expect([$pass(), $pass(), $pass(), $pass()])->toBe([0, 5, 2, 0]);
    expect(Mailbox::letters($folder))->toHaveCount(7);
});

it('names what is missing before anything goes', function (): void {
    $pack = ($this->due)('');
    ($this->prepare)();
    $message = Message::query()->firstOrFail();
    ($this->agree)($pack, 'overdue');
    $this->bench
        ->post("messages/{$message->id}/send")
        ->assertStatus(409)
        ->assertJsonPath('code', 'no-address');
    Customer::query()
        ->whereKey($pack->customer_id)
        ->update(['email' => 'a@b.example']);
    $this->bench
        ->post("messages/{$message->id}/send")
        ->assertStatus(409)
        ->assertJsonPath('code', 'no-mail');
    // Nothing of this machine but a mail server is spoken to.
    $this->bench->workshop->update(['settings' => ['mail_host' => '127.0.0.1', 'mail_port' => 3306, 'mail_sender' => 'x@y.example']]);
    expect(
        (string) $this->bench
            ->post("messages/{$message->id}/send")
            ->assertStatus(409)
            ->getContent(),
    )->toContain('no mail server');
    $this->bench->workshop->update(['settings' => ['mail_host' => '169.254.169.254', 'mail_sender' => 'x@y.example']]);
    expect(
        (string) $this->bench
            ->post("messages/{$message->id}/send")
            ->assertStatus(409)
            ->getContent(),
    )->toContain('no mail server');
    expect($message->refresh()->state)->toBe('prepared');
    // That it came is no matter of a tick.
    $this->bench
        ->post("messages/{$message->id}/done", ['as' => 'sent'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'not-sent');
    $done = $this->bench->post("messages/{$message->id}/done", ['as' => 'copied'])->assertOk();
    expect($done->json('done.0.state'))->toBe('copied')->and($done->json('open'))->toBe([]);
    $this->bench->post("messages/{$message->id}/done", ['as' => 'dropped'])->assertStatus(409);
});

it('never sends again by itself what was under way when something broke', function (): void {
    $folder = ($this->mailbox)(['mail_overdue' => true]);
    $pack = ($this->due)();
    ($this->agree)($pack, 'overdue');
    ($this->prepare)();
    Message::query()->update(['state' => 'sending', 'done_at' => now()]);
    $this->artisan('heartwood:messages --once');
    expect(Mailbox::letters($folder))->toBe([]);
    $id = (int) Message::query()->value('id');
    expect(
        (string) $this->bench
            ->post("messages/$id/send")
            ->assertStatus(409)
            ->getContent(),
    )->toContain('look whether it came');
    $this->bench->post("messages/$id/done", ['as' => 'sent'])->assertOk();
});

it('keeps the password at the mail server for nobody to read, and tries the settings with a letter', function (): void {
    $folder = ($this->mailbox)();
    $this->putJson('/api/mail', ['password' => 'x'], ['Idempotency-Key' => (string) Illuminate\Support\Str::uuid()])->assertForbidden();
    $this->bench->as('owner');
    $kept = $this->putJson(
        '/api/mail',
        ['password' => 'between-the-boards'],
        ['Idempotency-Key' => (string) Illuminate\Support\Str::uuid()],
    )->assertOk();
    expect($kept->json('secret'))->toBeTrue()->and((string) $kept->getContent())->not->toContain('between-the-boards');
    $stored = (string) DB::table('mail_secrets')->where('workshop_id', $this->bench->workshop->id)->value('password');
    expect($stored)
        ->not->toContain('between-the-boards')
        ->and(Illuminate\Support\Facades\Crypt::decryptString($stored))
        ->toBe('between-the-boards');
    $to = $this->bench->post('mail/test')->assertOk()->json('to');
    expect(Mailbox::letters($folder)[0]['to'])->toBe([$to]);
    $this->putJson('/api/mail', ['password' => ''], ['Idempotency-Key' => (string) Illuminate\Support\Str::uuid()])
        ->assertOk()
        ->assertJsonPath('secret', false);
    $this->getJson('/api/mailbox')->assertNotFound();
});

it('speaks as a mail server does, line by line', function (): void {
    $kept = [];
    $talk = new SmtpTalk(function (string $from, array $to, string $letter) use (&$kept): void {
        $kept[] = [$from, $to, $letter];
    });
    $say = fn(string $line): string => substr($talk->hears($line), 0, 3);
    expect(substr($talk->greets(), 0, 3))
        ->toBe('220')
        ->and($say('EHLO bench.example'))
        ->toBe('250')
        ->and($say('RCPT TO:<a@b.example>'))
        ->toBe('503');
    expect($say('MAIL FROM:x'))->toBe('501')->and($say('MAIL FROM:<x@y.example>'))->toBe('250')->and($say('DATA'))->toBe('503');
    expect($say('RCPT TO:<nobody@b.example>'))
        ->toBe('550')
        ->and($say('RCPT TO:<a@b.example>'))
        ->toBe('250')
        ->and($say('DATA'))
        ->toBe('354');
    expect($say('Subject: A'))->toBe('')->and($say(''))->toBe('')->and($say('..dotted'))->toBe('')->and($say('.'))->toBe('250');
    expect($kept)->toBe([['x@y.example', ['a@b.example'], "Subject: A\r\n\r\n.dotted"]]);
    expect($say('VRFY a'))->toBe('500')->and($say('QUIT'))->toBe('221')->and($talk->over)->toBeTrue();
});

it('comes round to every pack that is due, however few it looks at in a pass', function (): void {
    $packs = [($this->due)(), ($this->due)(), ($this->due)(), ($this->due)(), ($this->due)()];
    $few = new OwnerMessages(2);
    $new = array_map(fn(int $pass): int => $few->prepare(($this->shop)()), range(1, 6));
    expect($new)
        ->toBe([2, 2, 1, 0, 0, 0])
        ->and(Message::query()->distinct()->count('pack_id'))
        ->toBe(count($packs));
});
