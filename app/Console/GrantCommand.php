<?php

declare(strict_types=1);

namespace App\Console;

use Illuminate\Console\Command;
use Illuminate\Support\Facades\DB;

/** Lets the application's account alter only what may be altered: observations and decisions are append-only for it. */
final class GrantCommand extends Command
{
    /** Tables in which a row, once written, stays as it is. */
    public const APPEND_ONLY = [
        'readings',
        'measurements',
        'bench_tests',
        'guided_entries',
        'events',
        'verdicts',
        'decisions',
        'proof_entries',
        'sign_offs',
        'consents',
        'pack_revisions',
        'cell_events',
        'series_chunks',
        'service_readings',
        'service_photos',
        'pack_imports',
        'pack_capacities',
        'message_consents',
        'training_acts',
        'security_events',
        'migrations',
    ];

    protected $signature = 'heartwood:grant';

    protected $description = 'Grant the application its rights, table by table';

    public function handle(): int
    {
        $owner = DB::connection('owner');
        $database = $owner->getDatabaseName();
        $user = (string) config('database.connections.mariadb.username');
        foreach ($owner->getSchemaBuilder()->getTables() as $table) {
            if ($table['schema'] === $database && !in_array($table['name'], self::APPEND_ONLY, true)) {
                $owner->statement("GRANT UPDATE, DELETE ON `$database`.`{$table['name']}` TO `$user`@`localhost`");
            }
        }

        return self::SUCCESS;
    }
}
