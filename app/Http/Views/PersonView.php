<?php

declare(strict_types=1);

namespace App\Http\Views;

use App\Models\Person;
use App\Models\SignIn;
use App\Policies\Rights;
use App\Security\AccessLimits;
use App\Security\Sessions;
use Carbon\CarbonImmutable;
use Illuminate\Support\Collection;

/** Who is signed in, and which sessions are open, as the screens show them. */
final class PersonView
{
    /** Sessions of one person that are shown. */
    private const SHOWN = 50;

    /** @return array<string, mixed> */
    public static function of(Person $person, ?SignIn $row): array
    {
        $said = $person->workshop->said();
        $proved = $row?->proved_at?->addMinutes(AccessLimits::PROVED_MINUTES);

        return [
            'id' => $person->id,
            'name' => $person->name,
            'email' => $person->email,
            'role' => $person->role,
            'rights' => Rights::of($person),
            'how' => $row->how ?? Sessions::PASSWORD,
            'proved_until' => $proved === null || $proved->isPast() ? null : $proved->toIso8601ZuluString(),
            'has_code' => $person->code_hash !== null,
            'second_factor' => $person->totp_since !== null,
            'second_factor_first' => $person->role === 'owner' && $person->totp_since === null && $said->on('owner_second_factor'),
            'competence' => $person->competence,
            'workshop' => [
                'name' => $person->workshop->name,
                'currency' => $said->text('currency'),
                'demo' => $person->workshop->demo,
                'timezone' => $said->text('timezone'),
                'idle_minutes' => $said->int('idle_minutes'),
            ],
            'limits' => [
                'password_min' => AccessLimits::PASSWORD_MIN,
                'code_digits' => AccessLimits::CODE_DIGITS,
                'proved_minutes' => AccessLimits::PROVED_MINUTES,
            ],
        ];
    }

    /**
     * Open sessions of several people of one workshop, the latest first.
     *
     * @param  Collection<int, Person>  $people
     * @return array<int, list<array<string, mixed>>> by person
     */
    public static function sessions(Collection $people, ?SignIn $current): array
    {
        $now = CarbonImmutable::now();
        $known = $people->keyBy('id');
        $out = array_fill_keys($known->keys()->all(), []);
        foreach (SignIn::query()->whereIn('person_id', $known->keys())->whereNull('ended_at')->orderByDesc('seen_at')->get() as $s) {
            $person = $known[$s->person_id];
            if (count($out[$person->id]) < self::SHOWN && Sessions::over($s, $person, $person->workshop->said(), $now) === null) {
                $out[$person->id][] = [
                    'id' => $s->id,
                    'how' => $s->how,
                    'address' => $s->address,
                    'agent' => $s->agent,
                    'started_at' => $s->started_at->toIso8601ZuluString(),
                    'seen_at' => $s->seen_at->toIso8601ZuluString(),
                    'this' => $s->id === $current?->id,
                ];
            }
        }

        return $out;
    }
}
