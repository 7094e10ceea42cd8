<?php

declare(strict_types=1);

namespace App\Actions\People;

use App\Actions\Refused;
use App\Models\Invitation;
use App\Models\Person;
use App\Security\AccessLimits;
use App\Security\Attempts;
use App\Security\PasswordRule;
use App\Security\Secrets;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use App\Security\Sessions;
use Illuminate\Support\Facades\DB;

/** Invitations and resets: made by an owner, used once by the one who sets the password. */
final class JoinWorkshop
{
    /** @return array{Invitation, string} the row, and the secret: it is shown once and kept only as its hash */
    public function invite(Person $owner, string $name, string $email, string $role): array
    {
        return DB::transaction(function () use ($owner, $name, $email, $role): array {
            $email = $email === '' ? '' : self::free($email);
            $made = self::make($owner, ['kind' => Invitation::JOIN, 'name' => $name, 'email' => $email, 'role' => $role]);
            SecurityLog::add(SecurityEvent::Invited, $owner, null, ['name' => $name, 'role' => $role]);

            return $made;
        });
    }

    /** @return array{Invitation, string} */
    public function reset(Person $owner, Person $person): array
    {
        return DB::transaction(function () use ($owner, $person): array {
            Invitation::query()
                ->where('person_id', $person->id)
                ->whereNull('used_at')
                ->whereNull('withdrawn_at')
                ->update(['withdrawn_at' => now()]);
            $made = self::make($owner, [
                'kind' => Invitation::RESET,
                'person_id' => $person->id,
                'name' => $person->name,
                'email' => $person->email,
                'role' => $person->role,
            ]);
            SecurityLog::add(SecurityEvent::ResetMade, $owner, $person);

            return $made;
        });
    }

    public function withdraw(Person $owner, Invitation $invitation): void
    {
        DB::transaction(function () use ($owner, $invitation): void {
            if (
                Invitation::query()
                    ->where('id', $invitation->id)
                    ->whereNull('used_at')
                    ->whereNull('withdrawn_at')
                    ->update(['withdrawn_at' => now()]) === 1
            ) {
                SecurityLog::add(SecurityEvent::InvitationWithdrawn, $owner, null, ['name' => $invitation->name]);
            }
        });
    }

    public function look(string $secret, string $address): Invitation
    {
        return self::find($secret, $address);
    }

    public function join(string $secret, string $address, string $name, string $email, string $password): Person
    {
        $found = self::find($secret, $address);

        return DB::transaction(function () use ($found, $name, $email, $password): Person {
            $invitation = Invitation::query()->lockForUpdate()->findOrFail($found->id);
            if (!$invitation->isOpen()) {
                throw self::unknown();
            }
            $person = $invitation->kind === Invitation::RESET ? $invitation->person : null;
            $name = $name === '' ? $invitation->name : $name;
            $email = $person->email ?? self::free($email === '' ? (string) $invitation->email : $email);
            $why = PasswordRule::refuses($password, [$name, $email, $invitation->workshop->name]);
            if ($why !== null) {
                throw new Refused('weak-password', $why, 422, ['password' => $why]);
            }
            if ($person === null) {
                $person = Person::query()->create([
                    'workshop_id' => $invitation->workshop_id,
                    'name' => $name,
                    'email' => $email,
                    'password' => $password,
                    'role' => $invitation->role,
                    'competence' => [],
                ]);
            } elseif ($person->active) {
                $person->update(['password' => $password]);
                Sessions::endAll($person, 'password');
                Attempts::forget(Attempts::account($person->email));
            } else {
                throw self::unknown();
            }
            $invitation->update(['used_at' => now(), 'person_id' => $person->id]);
            SecurityLog::add($invitation->kind === Invitation::RESET ? SecurityEvent::ResetUsed : SecurityEvent::Joined, $person);

            return $person;
        });
    }

    /**
     * The address in the form in which it is kept, if nobody has it.
     *
     * @throws Refused
     */
    public static function free(string $email): string
    {
        $email = mb_strtolower(trim($email));
        if ($email === '') {
            throw new Refused('invalid', 'Give the e-mail address you will sign in with.', 422, [
                'email' => 'Give the e-mail address you will sign in with.',
            ]);
        }
        if (Person::query()->where('email', $email)->exists()) {
            throw new Refused('known-email', 'Somebody signs in with this address already.', 422, [
                'email' => 'Somebody signs in with this address already: use another.',
            ]);
        }

        return $email;
    }

    /**
     * @param  array<string, mixed>  $row
     * @return array{Invitation, string}
     */
    private static function make(Person $owner, array $row): array
    {
        $secret = Secrets::invitation();

        return [
            Invitation::query()->create(
                $row + [
                    'workshop_id' => $owner->workshop_id,
                    'secret_hash' => Secrets::hash($secret),
                    'made_by' => $owner->id,
                    'made_at' => now(),
                    'expires_at' => now()->addDays(AccessLimits::INVITATION_DAYS),
                ],
            ),
            $secret,
        ];
    }

    private static function find(string $secret, string $address): Invitation
    {
        $account = Attempts::account('invitation from ' . $address);
        Attempts::take($account, $address);
        $invitation = Invitation::query()->where('secret_hash', Secrets::hash($secret))->first();
        if ($invitation === null || !$invitation->isOpen()) {
            throw self::unknown();
        }
        Attempts::forget($account);

        return $invitation;
    }

    private static function unknown(): Refused
    {
        return new Refused('no-invitation', 'This invitation is not known, was used, or is too old.', 422, [
            'secret' => 'Ask the owner for a new one.',
        ]);
    }
}
