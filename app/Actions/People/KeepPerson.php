<?php

declare(strict_types=1);

namespace App\Actions\People;

use App\Actions\Refused;
use App\Actions\Version;
use App\Models\Person;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use App\Security\Sessions;
use Illuminate\Support\Facades\DB;

/** What an owner changes of a person: name, role, whether they work here, what they have learnt. */
final class KeepPerson
{
    /** @param  array{name?: string, role?: string, active?: bool, competence?: list<array<string, string|null>>}  $data */
    public function edit(Person $owner, Person $person, array $data, ?string $version): Person
    {
        return DB::transaction(function () use ($owner, $person, $data, $version): Person {
            // One lock for all: two owners who disable one another at once leave one of them.
            Person::query()->where('workshop_id', $owner->workshop_id)->where('role', 'owner')->orderBy('id')->lockForUpdate()->get();
            $person = Version::lock($person, $version, array_keys($data));
            $ends =
                $person->role === 'owner' &&
                $person->active &&
                (($data['role'] ?? 'owner') !== 'owner' || ($data['active'] ?? true) === false);
            if (
                $ends &&
                Person::query()->where('workshop_id', $person->workshop_id)->where('role', 'owner')->where('active', true)->count() < 2
            ) {
                throw new Refused('last-owner', 'A workshop keeps one owner who can sign in: make somebody else an owner first.', 409, [
                    'role' => 'Make somebody else an owner first.',
                ]);
            }
            $was = $person->only(['role', 'active']);
            $person->fill($data);
            if (isset($data['active'])) {
                $person->disabled_at = $data['active'] ? null : now();
            }
            $person->version++;
            $person->save();
            if (isset($data['active']) && $data['active'] !== $was['active']) {
                if (!$person->active) {
                    Sessions::endAll($person, 'disabled');
                }
                SecurityLog::add($person->active ? SecurityEvent::PersonEnabled : SecurityEvent::PersonDisabled, $owner, $person);
            }
            if ($person->role !== $was['role']) {
                SecurityLog::add(SecurityEvent::RoleChanged, $owner, $person, ['from' => $was['role'], 'to' => $person->role]);
            }
            if (array_intersect(['name', 'competence'], array_keys($data)) !== []) {
                SecurityLog::add(SecurityEvent::PersonEdited, $owner, $person, [
                    'fields' => array_values(array_intersect(['name', 'competence'], array_keys($data))),
                ]);
            }

            return $person;
        });
    }
}
