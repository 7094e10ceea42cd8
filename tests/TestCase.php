<?php

declare(strict_types=1);

namespace Tests;

use App\Models\SignIn;
use App\Security\Sessions;
use Illuminate\Contracts\Auth\Authenticatable;
use Illuminate\Foundation\Testing\DatabaseTransactions;
use Illuminate\Foundation\Testing\TestCase as BaseTestCase;
use Illuminate\Support\Str;

abstract class TestCase extends BaseTestCase
{
    use DatabaseTransactions;

    /** Signs a person in as the door does: with a session of their own, the password just proved. */
    public function actingAs(Authenticatable $user, $guard = null)
    {
        parent::actingAs($user, $guard);
        $row = SignIn::query()->create([
            'id' => (string) Str::uuid7(),
            'workshop_id' => $user->workshop_id,
            'person_id' => $user->id,
            'how' => 'password',
            'opened_at' => now(),
            'started_at' => now(),
            'seen_at' => now(),
            'proved_at' => now(),
        ]);

        return $this->withSession([Sessions::KEY => $row->id]);
    }

    protected function setUp(): void
    {
        parent::setUp();
        // Feature tests write: never into a database that people use.
        if (!str_ends_with((string) config('database.connections.mariadb.database'), '_test')) {
            throw new \RuntimeException('Refusing to run: the database name must end in _test. Use ./heartwood test.');
        }
        $this->withHeaders(['Accept' => 'application/json']);
        // Stand-ins of tests listen where there is room.
        config(['heartwood.bench_ports' => range(1, 65535)]);
    }
}
