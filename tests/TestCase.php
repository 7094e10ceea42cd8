<?php

declare(strict_types=1);

namespace Tests;

use Illuminate\Foundation\Testing\DatabaseTransactions;
use Illuminate\Foundation\Testing\TestCase as BaseTestCase;

abstract class TestCase extends BaseTestCase
{
    use DatabaseTransactions;

    protected function setUp(): void
    {
        parent::setUp();
        // Feature tests write: never into a database that people use.
        if (! str_ends_with((string) config('database.connections.mariadb.database'), '_test')) {
            throw new \RuntimeException('Refusing to run: the database name must end in _test. Use ./heartwood test.');
        }
        $this->withHeaders(['Accept' => 'application/json']);
    }
}
