<?php

declare(strict_types=1);

namespace App\Security;

use App\Models\Person;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Hash;

/** Whether somebody is who they say: password, and the second factor where it is on. Takes as long for nobody as for somebody. */
final class Proof
{
    /** The hash of nothing: looked at where there is no account, so that the answer takes as long. */
    private static ?string $nobody = null;

    public static function password(?Person $person, string $typed): bool
    {
        $hash = $person->password ?? (self::$nobody ??= self::dummy());

        return Hash::check($typed, $hash) && $person !== null && $person->active;
    }

    /** A code from the authenticator, or a recovery code; each is good once. */
    public static function secondFactor(Person $person, string $typed): bool
    {
        $typed = trim($typed);
        if (preg_match('/^\d{6}$/', $typed) === 1) {
            $step = Totp::step((string) $person->totp_secret, $typed, now()->getTimestamp(), (int) $person->totp_step);

            // Two that bring the same code at once: one of them has it.
            return $step !== null &&
                DB::table('people')
                    ->where('id', $person->id)
                    ->where('totp_step', '<', $step)
                    ->update(['totp_step' => $step]) === 1;
        }
        $used =
            DB::table('recovery_codes')
                ->where('person_id', $person->id)
                ->where('hash', Secrets::hash($typed))
                ->whereNull('used_at')
                ->update(['used_at' => now()]) === 1;
        if ($used) {
            SecurityLog::add(SecurityEvent::RecoveryCodeUsed, $person);
        }

        return $used;
    }

    public static function code(Person $person, string $typed): bool
    {
        return $person->code_hash !== null && Hash::check($typed, $person->code_hash) && $person->active;
    }

    private static function dummy(): string
    {
        return cache()->rememberForever(
            'nobody-hash-' . config('hashing.bcrypt.rounds', 12),
            fn(): string => Hash::make(bin2hex(random_bytes(8))),
        );
    }
}
