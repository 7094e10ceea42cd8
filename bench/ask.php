<?php

declare(strict_types=1);

use App\Models\Person;
use App\Models\SignIn;
use App\Security\Sessions;
use Illuminate\Contracts\Http\Kernel as HttpKernel;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\DB;

// What scripts that time pages share: the answer of an address through everything that a page's question goes through, and the middle.

config(['session.driver' => 'array', 'cache.default' => 'array']);

/** Asks from here on of this database, whose session may have been begun when it was filled, days ago. */
function at(string $database): void
{
    static $connected = null;
    if ($connected !== $database) {
        config(['database.connections.mariadb.database' => $database]);
        DB::purge('mariadb');
        SignIn::query()->update([
            'opened_at' => now(),
            'started_at' => now(),
            'seen_at' => now(),
            'proved_at' => now(),
            'ended_at' => null,
        ]);
        $connected = $database;
    }
}

/** @return array<string, mixed> */
function ask(string $address): array
{
    $request = Request::create("/api/$address", 'GET', server: ['HTTP_ACCEPT' => 'application/json']);
    auth()->setUser(Person::query()->firstOrFail());
    app('session')->put(Sessions::KEY, SignIn::query()->value('id'));
    $response = app(HttpKernel::class)->handle($request);
    if ($response->getStatusCode() !== 200) {
        throw new RuntimeException("$address: {$response->getStatusCode()} " . substr((string) $response->getContent(), 0, 300));
    }

    return (array) json_decode((string) $response->getContent(), true);
}

/** @param  list<float|int>  $values */
function middle(array $values): float
{
    sort($values);

    return (float) $values[intdiv(count($values), 2)];
}
