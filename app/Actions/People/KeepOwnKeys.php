<?php

declare(strict_types=1);

namespace App\Actions\People;

use App\Actions\Refused;
use App\Models\Person;
use App\Models\SignIn;
use App\Security\AccessLimits;
use App\Security\PasswordRule;
use App\Security\Proof;
use App\Security\Secrets;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use App\Security\Sessions;
use App\Security\Totp;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Hash;

/** What one changes of oneself: password, personal code, second factor. */
final class KeepOwnKeys
{
    /** Codes that are typed first: one digit again and again, or a run. */
    private const EASY_RUNS = '01234567890 09876543210';

    public function password(Person $person, SignIn $row, string $current, string $password): void
    {
        (new SignInPerson())->check(request(), $person, $current);
        $why = Hash::check($password, $person->password)
            ? 'This is the password you have: choose another.'
            : PasswordRule::refuses($password, [$person->name, $person->email, $person->workshop->name]);
        if ($why !== null) {
            throw new Refused('weak-password', $why, 422, ['password' => $why]);
        }
        DB::transaction(function () use ($person, $row, $password): void {
            $person->update(['password' => $password]);
            Sessions::endAll($person, 'password', $row->id);
            SecurityLog::add(SecurityEvent::PasswordChanged, $person);
        });
    }

    public function code(Person $person, string $code): void
    {
        if (count(array_unique(str_split($code))) === 1 || str_contains(self::EASY_RUNS, $code)) {
            throw new Refused('weak-code', 'This code is tried first: choose another.', 422, [
                'code' => 'Not one digit six times, and no run such as 123456.',
            ]);
        }
        DB::transaction(function () use ($person, $code): void {
            $person->update(['code_hash' => Hash::make($code)]);
            SecurityLog::add(SecurityEvent::CodeChanged, $person);
        });
    }

    /** @return array{secret: string, uri: string} a secret that counts once a code of it was shown */
    public function beginSecondFactor(Person $person): array
    {
        if ($person->totp_since !== null) {
            throw new Refused('second-factor-on', 'The second factor is on: switch it off before another is set up.');
        }
        $secret = Totp::secret();
        $person->update(['totp_secret' => $secret, 'totp_step' => 0]);

        return ['secret' => $secret, 'uri' => Totp::uri($secret, $person->email, 'Heartwood')];
    }

    /** @return list<string> recovery codes, shown once */
    public function confirmSecondFactor(Person $person, string $code): array
    {
        return DB::transaction(function () use ($person, $code): array {
            $person = Person::query()->lockForUpdate()->findOrFail($person->id);
            if ($person->totp_since !== null || $person->totp_secret === null) {
                throw new Refused('second-factor-on', 'There is no second factor waiting to be confirmed: begin again.');
            }
            if (!Proof::secondFactor($person, $code)) {
                throw new Refused('second-factor', 'This code does not match.', 422, [
                    'code' => 'This code does not match: check the clock of the authenticator, and type the next one.',
                ]);
            }
            $person->update(['totp_since' => now()]);
            $codes = array_map(fn(): string => Secrets::recovery(), range(1, AccessLimits::RECOVERY_CODES));
            DB::table('recovery_codes')->where('person_id', $person->id)->delete();
            DB::table('recovery_codes')->insert(
                array_map(fn(string $c): array => ['person_id' => $person->id, 'hash' => Secrets::hash($c)], $codes),
            );
            Sessions::endAll($person, 'password', request()->attributes->get('sign-in')?->id);
            SecurityLog::add(SecurityEvent::SecondFactorOn, $person);

            return $codes;
        });
    }

    public function endSecondFactor(Person $by, Person $person): void
    {
        DB::transaction(function () use ($by, $person): void {
            $person->update(['totp_secret' => null, 'totp_since' => null, 'totp_step' => 0]);
            DB::table('recovery_codes')->where('person_id', $person->id)->delete();
            SecurityLog::add(SecurityEvent::SecondFactorOff, $by, $person->is($by) ? null : $person);
        });
    }
}
