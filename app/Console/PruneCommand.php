<?php

declare(strict_types=1);

namespace App\Console;

use App\Security\AccessLimits;
use Illuminate\Console\Command;
use Illuminate\Support\Facades\DB;

/** Takes away what was only kept for a while: idempotency keys, noted tries, sessions of browsers, spent set-up codes. */
final class PruneCommand extends Command
{
    /** Rows of one statement: others are not kept waiting. */
    private const AT_ONCE = 2000;

    protected $signature = 'heartwood:prune';

    protected $description = 'Prune idempotency keys, tries and old sessions';

    public function handle(): int
    {
        $before = now()->subDays(AccessLimits::KEEP_KEYS_DAYS);
        $counts = [
            'keys' => self::prune('idempotency_keys', 'created_at', $before->format('Y-m-d H:i:s.u')),
            'tries' => self::prune('sign_in_attempts', 'at', $before->format('Y-m-d H:i:s.u')),
            'sessions' => self::prune('sessions', 'last_activity', $before->getTimestamp()),
            'codes' => self::prune('setup_codes', 'expires_at', $before->format('Y-m-d H:i:s.u')),
        ];
        $this->line(implode(', ', array_map(fn(int $n, string $what): string => "$n $what", $counts, array_keys($counts))));

        return self::SUCCESS;
    }

    private static function prune(string $table, string $column, string|int $before): int
    {
        for ($n = 0; ($gone = DB::table($table)->where($column, '<', $before)->limit(self::AT_ONCE)->delete()) > 0; ) {
            $n += $gone;
        }

        return $n;
    }
}
