<?php

declare(strict_types=1);

namespace App\Console;

use App\Actions\EventKind;
use App\Actions\EventLog;
use App\Models\Run;
use App\Models\SignIn;
use Illuminate\Console\Command;
use Illuminate\Database\Eloquent\Collection;
use Illuminate\Support\Facades\DB;

/**
 * After a backup was put back: nothing of then goes on by itself. Sessions end, runs that were under way are over and hold no instrument;
 * what only the keys of then could open goes where those did not come along.
 */
final class RestoredCommand extends Command
{
    protected $signature = 'heartwood:restored {--without-keys : the secrets in it cannot be opened here}';

    protected $description = 'End what was under way when the backup was taken';

    private const TEXT = 'The server was restored from a backup that was taken while this ran: nothing drives it. Read the pack anew.';

    public function handle(): int
    {
        DB::transaction(function (): void {
            SignIn::query()
                ->whereNull('ended_at')
                ->update(['ended_at' => now(), 'why' => 'restored']);
            DB::table('sessions')->delete();
            /** @var Collection<int, Run> $runs */
            $runs = Run::query()->whereNull('closed_at')->get();
            foreach ($runs as $run) {
                if ($run->ended_at === null) {
                    EventLog::ofRun($run, EventKind::RunEnded, [
                        'kind' => $run->kind,
                        'group' => $run->group_no,
                        'outcome' => 'restored',
                        'text' => self::TEXT,
                    ]);
                }
                $run->update([
                    'ended_at' => $run->ended_at ?? now(),
                    'closed_at' => now(),
                    'outcome' => $run->outcome === '' ? 'restored' : $run->outcome,
                    'state' => ['text' => self::TEXT, 'over' => true] + (array) $run->state,
                ]);
            }
            DB::table('instrument_claims')->delete();
            if ($this->option('without-keys')) {
                DB::table('people')->update(['totp_secret' => null]);
                DB::table('mail_secrets')->delete();
                // Answers of then cannot be given again; what was done stays done.
                DB::table('idempotency_keys')->delete();
            }
            $this->line(
                sprintf(
                    '%d run(s) that were under way are over; everybody signs in anew%s',
                    $runs->count(),
                    $this->option('without-keys') ? '; second factors and the mail password are set anew' : '',
                ),
            );
        });

        return self::SUCCESS;
    }
}
