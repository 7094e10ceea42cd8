<?php

declare(strict_types=1);

namespace App\Security;

use App\Actions\Refused;
use Illuminate\Support\Facades\DB;

/**
 * Tries at a secret. Each is noted before the secret is looked at, so that many at once do not slip through;
 * success takes the account's notes away again.
 */
final class Attempts
{
    /** The account as it is counted: case and blanks do not make another of it, and its name is not kept. */
    public static function account(string $name): string
    {
        return hash('sha256', mb_strtolower(trim($name)));
    }

    /**
     * Notes a try.
     *
     * @param  string  $account  from account()
     * @param  int  $most  failures within the window
     *
     * @throws Refused there were too many, of this account or from this address
     */
    public static function take(string $account, string $address, int $most = AccessLimits::ACCOUNT_FAILURES): void
    {
        DB::table('sign_in_attempts')->insert(['account' => $account, 'address' => $address, 'at' => now()->format('Y-m-d H:i:s.u')]);
        $since = now()->subMinutes(AccessLimits::WINDOW_MINUTES)->format('Y-m-d H:i:s.u');
        $recent = fn(string $column, string $value): array => DB::table('sign_in_attempts')
            ->where($column, $value)
            ->where('at', '>', $since)
            ->orderBy('at')
            ->pluck('at')
            ->all();
        foreach (
            [[$recent('account', $account), $most], [$recent('address', $address), AccessLimits::ADDRESS_FAILURES]]
            as [$times, $limit]
        ) {
            if (count($times) > $limit) {
                // Those that were held off count no further: the wait ends when the window has moved on.
                DB::table('sign_in_attempts')
                    ->where('account', $account)
                    ->where('address', $address)
                    ->orderByDesc('id')
                    ->limit(1)
                    ->delete();
                $wait = max(
                    1,
                    (int) ceil(
                        now()->diffInSeconds(
                            \Carbon\CarbonImmutable::parse($times[count($times) - 1 - $limit])->addMinutes(AccessLimits::WINDOW_MINUTES),
                        ),
                    ),
                );
                throw new Refused(
                    'too-many',
                    sprintf(
                        'Too many tries did not match. Wait %d minute%s, then try again.',
                        $m = (int) ceil($wait / 60),
                        $m === 1 ? '' : 's',
                    ),
                    429,
                    [],
                    ['Retry-After' => (string) $wait],
                );
            }
        }
    }

    public static function forget(string $account): void
    {
        DB::table('sign_in_attempts')->where('account', $account)->delete();
    }
}
