<?php

declare(strict_types=1);

namespace App\Support;

use App\Models\Job;
use App\Models\Run;
use App\Security\AccessLimits;
use Illuminate\Support\Facades\DB;

/** Whether each part is well, in words that say the way out. */
final class Health
{
    /** Megabytes free under which a disk is not well: a database that cannot write its log stops. */
    public const DISK_MB = 200;

    /** @return array<string, array{ok: bool, words: string}> */
    public static function parts(): array
    {
        return [
            'database' => self::database(),
            'disk' => self::disk(),
            'files' => self::files(),
            'runner' => self::beat('runner', 'runs are driven', 'nobody drives the runs: supplies switch themselves off'),
            'messages' => self::beat('messages', 'owners are written to when something is due', 'nothing is prepared for owners'),
            'folder' => self::beat('folder', 'what runs did comes into the record', 'what runs did is not brought into the record'),
        ];
    }

    /** @return array{ok: bool, words: string} */
    private static function database(): array
    {
        try {
            DB::select('select 1 as one');
            $late = DB::table('migrations')->count() < count(glob(database_path('migrations') . '/*.php') ?: []);

            return $late
                ? ['ok' => false, 'words' => 'its schema is older than this version: ./heartwood up']
                : ['ok' => true, 'words' => 'it answers'];
        } catch (\Throwable) {
            return ['ok' => false, 'words' => 'it does not answer: ./heartwood logs says why, ./heartwood up starts it again'];
        }
    }

    /** @return array{ok: bool, words: string} */
    private static function disk(): array
    {
        $free = @disk_free_space(storage_path());
        $mb = $free === false ? null : (int) ($free / 1048576);

        return [
            'ok' => $mb !== null && self::hasRoom($mb),
            'words' =>
                $mb === null
                    ? 'it cannot be asked'
                    : (self::hasRoom($mb)
                        ? "$mb MB free"
                        : "only $mb MB free: make room under " . basename(dirname(storage_path(), 2)) . '/, nothing is stored without it'),
        ];
    }

    /** @param  int  $mb  megabytes free */
    public static function hasRoom(int $mb): bool
    {
        return $mb >= self::DISK_MB;
    }

    /** @return array{ok: bool, words: string} */
    private static function files(): array
    {
        $file = storage_path('framework/cache/health');
        $ok = @file_put_contents($file, 'x') === 1 && @file_get_contents($file) === 'x';
        @unlink($file);

        return [
            'ok' => $ok,
            'words' => $ok ? 'they can be written' : 'they cannot be written: is the disk full, or var/ somebody else\'s?',
        ];
    }

    /** @return array{ok: bool, words: string} */
    private static function beat(string $name, string $well, string $not): array
    {
        $age = Beat::age($name);

        return [
            'ok' => $age !== null && $age <= Beat::LATE_S,
            'words' => $age !== null && $age <= Beat::LATE_S ? $well : "$not: ./heartwood up starts it again",
        ];
    }

    /** In the common text format (OpenMetrics' older sister): gauges alone, no names of people or customers. */
    public static function metrics(): string
    {
        $parts = self::parts();
        $lines = ['# HELP heartwood_part_up Whether a part is well.', '# TYPE heartwood_part_up gauge'];
        foreach ($parts as $name => $part) {
            $lines[] = sprintf('heartwood_part_up{part="%s"} %d', $name, $part['ok'] ? 1 : 0);
        }
        $gauges = ['heartwood_disk_free_bytes' => ['Bytes free where data lies.', (float) (@disk_free_space(storage_path()) ?: 0)]];
        if ($parts['database']['ok']) {
            $gauges += [
                'heartwood_jobs_open' => ['Jobs that are open.', (float) Job::query()->where('status', 'open')->count()],
                'heartwood_jobs_held' => [
                    'Open jobs on hold or in quarantine.',
                    (float) Job::query()->where('status', 'open')->where('safety_state', '!=', 'clear')->count(),
                ],
                'heartwood_runs_open' => ['Supervised runs that are not closed.', (float) Run::query()->whereNull('closed_at')->count()],
                'heartwood_sessions_open' => [
                    'Sessions that have not ended.',
                    (float) DB::table('sign_ins')->whereNull('ended_at')->where('seen_at', '>', now()->subHour())->count(),
                ],
                'heartwood_sign_in_failures_recent' => [
                    'Tries at a password within the window.',
                    (float) DB::table('sign_in_attempts')->where('at', '>', now()->subMinutes(AccessLimits::WINDOW_MINUTES))->count(),
                ],
                'heartwood_readings_total' => ['Readings kept.', (float) DB::table('readings')->count()],
            ];
        }
        foreach ($gauges as $name => [$help, $value]) {
            array_push($lines, "# HELP $name $help", "# TYPE $name gauge", sprintf('%s %.17g', $name, $value));
        }

        return implode("\n", $lines) . "\n";
    }
}
