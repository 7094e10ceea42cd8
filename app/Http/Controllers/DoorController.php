<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\People\JoinWorkshop;
use App\Actions\People\OpenWorkshop;
use App\Demo\DemoWorkshop;
use App\Http\Requests\JoinBody;
use App\Http\Requests\SecretBody;
use App\Http\Requests\StartBody;
use App\Http\Views\PersonView;
use App\Models\Invitation;
use App\Models\Person;
use App\Models\Workshop;
use App\Security\AccessLimits;
use App\Security\Attempts;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use App\Security\Sessions;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** What stands before the sign-in: the first start, invitations, and the demo's own sign-ins where the demo is. */
final class DoorController extends Controller
{
    public function show(): JsonResponse
    {
        $demo = Workshop::query()->where('demo', true)->value('id');
        $people =
            $demo === null
                ? []
                : Person::query()
                    ->where('workshop_id', $demo)
                    ->where('active', true)
                    ->whereIn('email', array_column(DemoWorkshop::PEOPLE, 1))
                    ->orderBy('id')
                    ->get()
                    ->map(fn(Person $p): array => ['email' => $p->email, 'role' => $p->role])
                    ->all();

        return new JsonResponse([
            'empty' => !Workshop::query()->exists(),
            'password_min' => AccessLimits::PASSWORD_MIN,
            'demo' => $demo === null ? null : ['people' => $people, 'password' => DemoWorkshop::PASSWORD],
        ]);
    }

    public function start(StartBody $request, OpenWorkshop $open): JsonResponse
    {
        $account = Attempts::account('set-up from ' . $request->ip());
        Attempts::take($account, (string) $request->ip());
        $in = $request->validated();
        $person = $open->handle($in['setup_code'], trim($in['workshop']), trim($in['name']), $in['email'], $in['password']);
        Attempts::forget($account);

        return $this->enter($request, $person, 201);
    }

    public function look(SecretBody $request, JoinWorkshop $join): JsonResponse
    {
        $i = $join->look($request->string('secret')->value(), (string) $request->ip());

        return new JsonResponse([
            'kind' => $i->kind,
            'workshop' => $i->workshop->name,
            'name' => $i->name,
            'email' => $i->email,
            'role' => $i->role,
            'expires_at' => $i->expires_at->toIso8601ZuluString(),
        ]);
    }

    public function join(JoinBody $request, JoinWorkshop $join): JsonResponse
    {
        $in = $request->validated();
        $person = $join->join(
            $in['secret'],
            (string) $request->ip(),
            trim((string) ($in['name'] ?? '')),
            (string) ($in['email'] ?? ''),
            $in['password'],
        );
        // A reset does not pass by the second factor: whoever has one signs in with it.
        if ($person->totp_since !== null) {
            return new JsonResponse(['kind' => Invitation::RESET, 'signed_in' => null]);
        }

        return $this->enter($request, $person, 201);
    }

    private function enter(Request $request, Person $person, int $status): JsonResponse
    {
        $row = Sessions::open($request, $person->refresh(), Sessions::PASSWORD);
        SecurityLog::add(SecurityEvent::SignedIn, $person);

        return new JsonResponse(['kind' => Invitation::JOIN, 'signed_in' => PersonView::of($person, $row)], $status);
    }
}
