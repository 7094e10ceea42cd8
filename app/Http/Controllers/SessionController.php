<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\People\SignInPerson;
use App\Http\Requests\HandOverBody;
use App\Http\Requests\ProveBody;
use App\Http\Requests\SignInBody;
use App\Models\Person;
use App\Models\SignIn;
use App\Policies\Rights;
use App\Security\AccessLimits;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use App\Security\Sessions;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** Signing in and out, handing the bench over, and one's own sessions. */
final class SessionController extends Controller
{
    public function show(Request $request): JsonResponse
    {
        return new JsonResponse(self::describe($this->person(), $request->attributes->get('sign-in')));
    }

    public function store(SignInBody $request, SignInPerson $sign): JsonResponse
    {
        $person = $sign->byPassword($request, $request->string('email')->value(), $request->string('password')->value(), $request->string('code')->value());

        return new JsonResponse(self::describe($person, Sessions::current($request)));
    }

    public function destroy(Request $request): JsonResponse
    {
        $row = Sessions::current($request);
        if ($row !== null) {
            Sessions::end($row, 'signed-out');
            SecurityLog::add(SecurityEvent::SignedOut, $row->person);
        }
        Sessions::leave($request);

        return new JsonResponse(['signed_out' => true]);
    }

    public function prove(ProveBody $request, SignInPerson $sign): JsonResponse
    {
        $sign->prove($request, $this->person(), $this->row($request), $request->string('password')->value(), $request->string('code')->value());

        return new JsonResponse(self::describe($this->person(), Sessions::current($request)));
    }

    public function handOver(HandOverBody $request, SignInPerson $sign): JsonResponse
    {
        $next = $sign->byCode($request, $this->row($request), $this->person(), $request->integer('person_id'), $request->string('code')->value());

        return new JsonResponse(self::describe($next, Sessions::current($request)));
    }

    /** Who may take the bench over. */
    public function colleagues(): JsonResponse
    {
        $people = Person::query()->where('workshop_id', $this->person()->workshop_id)->where('active', true)->orderBy('name')->get();

        return new JsonResponse(['people' => $people->map(fn (Person $p): array => ['id' => $p->id, 'name' => $p->name, 'role' => $p->role, 'has_code' => $p->code_hash !== null])->all()]);
    }

    public function own(Request $request): JsonResponse
    {
        return new JsonResponse(['sessions' => self::sessions($this->person(), $this->row($request))]);
    }

    public function end(Request $request, string $signIn): JsonResponse
    {
        $row = SignIn::query()->where('person_id', $this->person()->id)->findOrFail($signIn);
        Sessions::end($row, 'ended');
        SecurityLog::add(SecurityEvent::SessionEnded, $this->person());

        return $this->own($request);
    }

    /** @return list<array<string, mixed>> open sessions of a person, the latest first */
    public static function sessions(Person $person, ?SignIn $current): array
    {
        $settings = $person->workshop->said();
        $now = CarbonImmutable::now();

        return array_values(SignIn::query()->where('person_id', $person->id)->whereNull('ended_at')->orderByDesc('seen_at')->limit(50)->get()
            ->filter(fn (SignIn $s): bool => Sessions::over($s, $person, $settings, $now) === null)
            ->map(fn (SignIn $s): array => [
                'id' => $s->id, 'how' => $s->how, 'address' => $s->address, 'agent' => $s->agent, 'started_at' => $s->started_at->toIso8601ZuluString(), 'seen_at' => $s->seen_at->toIso8601ZuluString(), 'this' => $s->id === $current?->id,
            ])->all());
    }

    private function row(Request $request): SignIn
    {
        $row = $request->attributes->get('sign-in');
        abort_unless($row instanceof SignIn, 401);

        return $row;
    }

    /** @return array<string, mixed> */
    public static function describe(Person $person, ?SignIn $row): array
    {
        $said = $person->workshop->said();
        $proved = $row?->proved_at?->addMinutes(AccessLimits::PROVED_MINUTES);

        return [
            'id' => $person->id, 'name' => $person->name, 'email' => $person->email, 'role' => $person->role, 'rights' => Rights::of($person), 'how' => $row->how ?? Sessions::PASSWORD,
            'proved_until' => $proved === null || $proved->isPast() ? null : $proved->toIso8601ZuluString(), 'has_code' => $person->code_hash !== null, 'second_factor' => $person->totp_since !== null,
            'second_factor_first' => $person->role === 'owner' && $person->totp_since === null && $said->on('owner_second_factor'), 'competence' => $person->competence,
            'workshop' => ['name' => $person->workshop->name, 'currency' => $said->text('currency'), 'demo' => $person->workshop->demo, 'timezone' => $said->text('timezone'), 'idle_minutes' => $said->int('idle_minutes')],
        ];
    }
}
