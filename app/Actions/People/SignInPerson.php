<?php

declare(strict_types=1);

namespace App\Actions\People;

use App\Actions\Refused;
use App\Models\Person;
use App\Models\SignIn;
use App\Security\AccessLimits;
use App\Security\Attempts;
use App\Security\Proof;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use App\Security\Sessions;
use Illuminate\Http\Request;

/**
 * By password into a session; by personal code from one person to the next within it; the password once more for what is not undone
 * easily.
 */
final class SignInPerson
{
    public function byPassword(Request $request, string $email, string $password, string $code = ''): Person
    {
        $person = Person::query()->where('email', mb_strtolower(trim($email)))->first();
        $account = Attempts::account($email);
        $this->try($account, $request, $person, SecurityEvent::SignInThrottled);
        if (!Proof::password($person, $password)) {
            SecurityLog::add(SecurityEvent::SignInFailed, null, $person, $person === null ? [] : ['active' => $person->active]);
            throw new Refused('no-match', 'E-mail and password do not match.', 422, ['password' => 'E-mail and password do not match.']);
        }
        /** @var Person $person */
        $this->secondFactor($person, $code, SecurityEvent::SignInFailed);
        Attempts::forget($account);
        Sessions::open($request, $person, Sessions::PASSWORD);
        SecurityLog::add(SecurityEvent::SignedIn, $person);

        return $person;
    }

    /** Whether this is the password of somebody who is here; tries are counted with those at the door. */
    public function check(
        Request $request,
        Person $person,
        string $password,
        string $field = 'current',
        string $code = '',
        bool $factor = false,
    ): void {
        $account = Attempts::account($person->email);
        $this->try($account, $request, $person, SecurityEvent::SignInThrottled);
        if (!Proof::password($person, $password)) {
            SecurityLog::add(SecurityEvent::ProofFailed, $person);
            throw new Refused('no-match', 'This is not your password.', 422, [$field => 'This is not your password.']);
        }
        if ($factor) {
            $this->secondFactor($person, $code, SecurityEvent::ProofFailed);
        }
        Attempts::forget($account);
    }

    public function prove(Request $request, Person $person, SignIn $row, string $password, string $code = ''): void
    {
        $this->check($request, $person, $password, 'password', $code, true);
        SignIn::query()
            ->where('id', $row->id)
            ->update(['proved_at' => now()]);
        SecurityLog::add(SecurityEvent::Proved, $person);
    }

    /** The next person at a shared bench. The session's own limits go on counting from the password that opened it. */
    public function byCode(Request $request, SignIn $row, Person $leaving, int $next, string $code): Person
    {
        $person = Person::query()->where('workshop_id', $leaving->workshop_id)->where('active', true)->find($next);
        $session = Attempts::account('session ' . $row->id);
        $this->try($session, $request, $leaving, SecurityEvent::SignInThrottled, AccessLimits::CODE_FAILURES);
        $account = Attempts::account('code ' . ($person->id ?? $next));
        $this->try($account, $request, $person, SecurityEvent::SignInThrottled);
        if ($person === null || !Proof::code($person, $code)) {
            SecurityLog::add(SecurityEvent::CodeFailed, $leaving, $person);
            $why =
                $person !== null && $person->code_hash === null
                    ? "{$person->name} has no personal code yet: sign in with the password, and set one under Me."
                    : 'This is not the personal code.';
            throw new Refused('no-match', $why, 422, ['code' => $why]);
        }
        Attempts::forget($session);
        Attempts::forget($account);
        Sessions::end($row, 'handed-over');
        Sessions::open($request, $person, Sessions::CODE, $row->opened_at);
        SecurityLog::add(SecurityEvent::HandedOver, $person, $leaving);

        return $person;
    }

    private function try(
        string $account,
        Request $request,
        ?Person $about,
        SecurityEvent $kind,
        int $most = AccessLimits::ACCOUNT_FAILURES,
    ): void {
        try {
            Attempts::take($account, (string) $request->ip(), $most);
        } catch (Refused $e) {
            SecurityLog::add($kind, null, $about);
            throw $e;
        }
    }

    private function secondFactor(Person $person, string $code, SecurityEvent $failure): void
    {
        if ($person->totp_since === null) {
            return;
        }
        if (trim($code) === '') {
            throw new Refused('second-factor', 'Type the code that your authenticator shows.', 422, [
                'code' => 'Type the code that your authenticator shows, or a recovery code.',
            ]);
        }
        if (!Proof::secondFactor($person, $code)) {
            SecurityLog::add($failure, null, $person, ['second_factor' => true]);
            throw new Refused('second-factor', 'This code does not match.', 422, [
                'code' => 'This code does not match, or was used before. Wait for the next one.',
            ]);
        }
    }
}
