<?php

declare(strict_types=1);

use App\Support\Beat;
use App\Support\Csv;
use App\Support\Health;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

beforeEach(function (): void {
    $this->bench = new Workbench($this);
    $this->bench->as('owner');
});

it('answers to its own names alone', function (string $host, bool $known): void {
    config(['heartwood.hosts' => ['127.0.0.1', 'localhost', '[::1]', 'bench.workshop.example']]);
    $answer = $this->getJson("http://$host/api/door");
    expect($answer->getStatusCode())
        ->toBe($known ? 200 : 421)
        ->and($answer->headers->get('X-Request-Id'))
        ->not->toBeNull();
})->with([
    ['127.0.0.1:8137', true],
    ['localhost', true],
    ['LOCALHOST:8137', true],
    ['[::1]:8137', true],
    ['bench.workshop.example', true],
    ['elsewhere.example', false],
    ['127.0.0.1.elsewhere.example', false],
    ['bench.workshop.example.elsewhere.example', false],
]);

it('says with every answer what a browser may do with it, also with errors and pages', function (string $path): void {
    config(['heartwood.hosts' => ['localhost', '127.0.0.1']]);
    $answer = $this->get($path);
    $headers = $answer->headers;
    expect($headers->get('Content-Security-Policy'))
        ->toContain("default-src 'none'", "script-src 'self'", "frame-ancestors 'none'")
        ->not->toContain('unsafe')
        ->and($headers->get('X-Content-Type-Options'))
        ->toBe('nosniff')
        ->and($headers->get('Referrer-Policy'))
        ->toBe('same-origin')
        ->and($headers->get('Permissions-Policy'))
        ->toContain('geolocation=()')
        ->and($headers->get('Cache-Control'))
        ->toContain('no-store')
        ->and($headers->get('X-Request-Id'))
        ->toMatch('/^[0-9a-f]{12}$/')
        ->and($headers->get('Strict-Transport-Security'))
        ->toBeNull();
})->with(['/api/bench', '/api/nothing-here', '/api/jobs/0', '/']);

it('marks cookies for TLS alone where it is spoken, and hides the session from scripts', function (): void {
    $cookies = collect($this->get('/')->headers->getCookies())->keyBy(fn($c) => $c->getName());
    expect($cookies['heartwood_session']->isHttpOnly())
        ->toBeTrue()
        ->and($cookies['heartwood_session']->getSameSite())
        ->toBe('lax')
        ->and($cookies['heartwood_session']->isSecure())
        ->toBeFalse();
    config(['session.secure' => true]);
    $tls = collect($this->get('https://localhost/')->headers->getCookies())->keyBy(fn($c) => $c->getName());
    expect($tls['heartwood_session']->isSecure())
        ->toBeTrue()
        ->and($tls['XSRF-TOKEN']->isSecure())
        ->toBeTrue()
        ->and($this->get('https://localhost/')->headers->get('Strict-Transport-Security'))
        ->toContain('max-age');
});

it('gives every page a word of its own for its styles', function (): void {
    $word = fn(): string => preg_match("/nonce-([^']+)'/", (string) $this->get('/')->headers->get('Content-Security-Policy'), $m) === 1
        ? $m[1]
        : '';
    $page = $this->get('/');
    preg_match("/nonce-([^']+)'/", (string) $page->headers->get('Content-Security-Policy'), $m);
    expect($page->getContent())
        ->toContain('<meta name="csp-nonce" content="' . $m[1] . '">')
        ->and($m[1])
        ->not->toBe('');
});

it('puts an apostrophe before what a spreadsheet would run, and takes it off again', function (string $text, string $written): void {
    expect(Csv::safe($text))->toBe($written)->and(Csv::plain($written))->toBe($text);
})->with([
    ['=1+1', "'=1+1"],
    ['@SUM(A1)', "'@SUM(A1)"],
    ['+cmd|x', "'+cmd|x"],
    ["\t=1", "'\t=1"],
    ['-2+3', "'-2+3"],
    ['-2.5', '-2.5'],
    ['+31', '+31'],
    ['QL-30', 'QL-30'],
    ['', ''],
    ["it's", "it's"],
    ['|calc', "'|calc"],
]);

it('hands the drawer out without formulas, and takes its own table back in', function (): void {
    $lot = DB::table('lots')->insertGetId([
        'workshop_id' => $this->bench->workshop->id,
        'name' => '=HYPERLINK("x")',
        'created_at' => now(),
        'updated_at' => now(),
    ]);
    DB::table('cells')->insert([
        'workshop_id' => $this->bench->workshop->id,
        'code' => '@c1',
        'lot_id' => $lot,
        'model' => '+QX',
        'chemistry' => 'nmc',
        'rated_ah' => 2.5,
        'capacity_ah' => 2.4,
        'created_at' => now(),
        'updated_at' => now(),
    ]);
    $csv = $this->get('/api/cells.csv')->assertOk()->getContent();
    expect($csv)->toContain("'@c1,\"'=HYPERLINK(\"\"x\"\")\",'+QX")->toContain(',2.4,');
    $other = new Workbench($this);
    $other->as('owner');
    $other->post('cells/import', ['csv' => $csv])->assertSuccessful();
    expect(DB::table('cells')->where('workshop_id', $other->workshop->id)->value('code'))
        ->toBe('@c1')
        ->and(DB::table('security_events')->where('workshop_id', $this->bench->workshop->id)->where('kind', 'exported')->count())
        ->toBe(1);
});

it('tells its parts apart, and what to do where one is not well', function (): void {
    foreach (['runner', 'folder'] as $name) {
        Beat::touch($name);
    }
    $answer = $this->getJson('/api/health');
    expect(Contract::complaints($answer, 'get', '/api/health'))
        ->toBe([])
        ->and($answer->json('parts.database.ok'))
        ->toBeTrue()
        ->and(array_keys($answer->json('parts')))
        ->toBe(['database', 'disk', 'files', 'runner', 'messages', 'folder']);
    config(['database.connections.mariadb.unix_socket' => '/nonexistent/db.sock']);
    DB::purge();
    try {
        $down = Health::parts();
    } finally {
        config(['database.connections.mariadb.unix_socket' => env('DB_SOCKET')]);
        DB::purge();
        DB::connection()->beginTransaction();
    }
    expect($down['database']['ok'])
        ->toBeFalse()
        ->and($down['database']['words'])
        ->toContain('./heartwood')
        ->and($down['disk']['ok'])
        ->toBeTrue();
});

it('says in words that the database is away, and never 500', function (): void {
    config(['database.connections.mariadb.unix_socket' => '/nonexistent/db.sock']);
    DB::purge();
    try {
        $answer = $this->getJson('/api/door');
    } finally {
        config(['database.connections.mariadb.unix_socket' => env('DB_SOCKET')]);
        DB::purge();
        DB::connection()->beginTransaction();
    }
    expect($answer->getStatusCode())
        ->toBe(503)
        ->and($answer->json('code'))
        ->toBe('no-database')
        ->and($answer->json('request'))
        ->toBe($answer->headers->get('X-Request-Id'));
});

it('gives metrics in the common text format, a line a gauge', function (): void {
    foreach (array_filter(explode("\n", Health::metrics())) as $line) {
        expect($line)->toMatch('/^(# (HELP|TYPE) heartwood_[a-z_]+ .+|heartwood_[a-z_]+(\{part="[a-z]+"\})? [0-9.e+]+)$/');
    }
    expect(Health::metrics())->toContain('heartwood_part_up{part="database"} 1');
});

it('prunes what was kept for a while, and not what is younger', function (): void {
    $person = $this->bench->people['owner']->id;
    $key = fn(int $hours): array => [
        'person_id' => $person,
        'key' => (string) Str::uuid(),
        'body_hash' => str_repeat('a', 64),
        'created_at' => now()->subHours($hours)->format('Y-m-d H:i:s.u'),
    ];
    DB::table('idempotency_keys')->insert([($old = $key(73)), ($young = $key(71))]);
    Artisan::call('heartwood:prune');
    expect(DB::table('idempotency_keys')->where('key', $old['key'])->exists())
        ->toBeFalse()
        ->and(DB::table('idempotency_keys')->where('key', $young['key'])->exists())
        ->toBeTrue();
});

it('counts the files of a form into what a key stands for', function (): void {
    $job = $this->bench->open();
    $key = (string) Str::uuid();
    $send = fn(string $text) => $this->post(
        '/api/logs',
        [
            'tester' => 'T',
            'job_id' => $job->id,
            'group_no' => 1,
            'file' => Illuminate\Http\UploadedFile::fake()->createWithContent('log.csv', $text),
        ],
        ['Idempotency-Key' => $key, 'Accept' => 'application/json', 'Content-Type' => 'multipart/form-data'],
    );
    $csv = fn(float $v): string => "Test Time / s,Voltage / V,Current / A\n" .
        implode("\n", array_map(fn(int $t): string => sprintf('%d,%.3f,-1.0', $t * 10, $v - $t * 0.01), range(0, 60))) .
        "\n";
    $first = $send($csv(4.1));
    expect($first->getStatusCode())->toBeLessThan(300, (string) $first->getContent());
    expect($send($csv(4.1))->headers->get('Idempotency-Replayed'))
        ->toBe('true')
        ->and($send($csv(4.0))->json('code'))
        ->toBe('key-reused');
});

it('takes a process for gone when its sign of life is older than twenty seconds, and a disk for full under 200 MB', function (): void {
    $beat = dirname(storage_path()) . '/run/runner.beat';
    foreach ([18 => true, 23 => false] as $age => $well) {
        // A runner that lives beside the tests may give its own sign in between: then once more.
        for ($try = 0; $try < 5; $try++) {
            touch($beat, time() - $age);
            $ok = Health::parts()['runner']['ok'];
            if ($ok === $well) {
                break;
            }
        }
        expect($ok)->toBe($well);
    }
    unlink($beat);
    expect(Health::parts()['runner'])
        ->toMatchArray(['ok' => false])
        ->and(Beat::age('runner'))
        ->toBeNull()
        ->and(Health::hasRoom(200))
        ->toBeTrue()
        ->and(Health::hasRoom(199))
        ->toBeFalse();
    Beat::touch('runner');
});

it('notes when a session was last used, not at every request', function (): void {
    $seen = fn(): string => (string) App\Models\SignIn::query()
        ->where('person_id', $this->bench->people['owner']->id)
        ->value('seen_at')
        ->format('H:i:s');
    $at = $seen();
    $this->travel(18)->seconds();
    $this->getJson('/api/session')->assertOk();
    expect($seen())->toBe($at);
    $this->travel(3)->seconds();
    $this->getJson('/api/session')->assertOk();
    expect($seen())->not->toBe($at);
});
