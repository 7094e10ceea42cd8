<?php

declare(strict_types=1);

namespace App\Console;

use App\Models\Workshop;
use App\Security\AccessLimits;
use App\Security\Secrets;
use Illuminate\Console\Command;
use Illuminate\Support\Facades\DB;

/** Prints a set-up code: whoever can use the server's own console may open a workshop, and nobody else. */
final class SetupCodeCommand extends Command
{
    protected $signature = 'heartwood:setup-code {--if-empty : only where there is no workshop yet}';

    protected $description = 'Print a code that opens a new workshop';

    public function handle(): int
    {
        if ($this->option('if-empty') && Workshop::query()->exists()) {
            return self::SUCCESS;
        }
        $code = Secrets::invitation();
        DB::table('setup_codes')->where('expires_at', '<', now())->delete();
        DB::table('setup_codes')->insert([
            'secret_hash' => Secrets::hash($code),
            'expires_at' => now()->addHours(AccessLimits::SETUP_HOURS),
        ]);
        $this->line(sprintf('  Open your workshop at  %s/start#%s', rtrim((string) config('app.url'), '/'), $code));
        $this->line(sprintf('  or with the set-up code  %s  (good once, for %d hours)', $code, AccessLimits::SETUP_HOURS));

        return self::SUCCESS;
    }
}
