<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\People\SignInPerson;
use App\Http\Requests\HandOverBody;
use App\Http\Requests\ProveBody;
use App\Http\Requests\SignInBody;
use App\Http\Views\PersonView;
use App\Models\Person;
use App\Models\SignIn;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use App\Security\Sessions;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** Signing in and out, handing the bench over, and one's own sessions. */
final class SessionController extends Controller
{
    public function show(Request $request): JsonResponse
    {
        return new JsonResponse(PersonView::of($this->person(), $request->attributes->get('sign-in')));
    }

    public function store(SignInBody $request, SignInPerson $sign): JsonResponse
    {
        $person = $sign->byPassword(
            $request,
            $request->string('email')->value(),
            $request->string('password')->value(),
            $request->string('code')->value(),
        );

        return new JsonResponse(PersonView::of($person, Sessions::current($request)));
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
        $sign->prove(
            $request,
            $this->person(),
            $this->row($request),
            $request->string('password')->value(),
            $request->string('code')->value(),
        );

        return new JsonResponse(PersonView::of($this->person(), Sessions::current($request)));
    }

    public function handOver(HandOverBody $request, SignInPerson $sign): JsonResponse
    {
        $next = $sign->byCode(
            $request,
            $this->row($request),
            $this->person(),
            $request->integer('person_id'),
            $request->string('code')->value(),
        );

        return new JsonResponse(PersonView::of($next, Sessions::current($request)));
    }

    /** Who may take the bench over. */
    public function colleagues(): JsonResponse
    {
        $people = Person::query()->where('workshop_id', $this->person()->workshop_id)->where('active', true)->orderBy('name')->get();

        return new JsonResponse([
            'people' => $people
                ->map(
                    fn(Person $p): array => ['id' => $p->id, 'name' => $p->name, 'role' => $p->role, 'has_code' => $p->code_hash !== null],
                )
                ->all(),
        ]);
    }

    public function own(Request $request): JsonResponse
    {
        return new JsonResponse([
            'sessions' => PersonView::sessions(collect([$this->person()]), $this->row($request))[$this->person()->id],
        ]);
    }

    public function end(Request $request, string $signIn): JsonResponse
    {
        $row = SignIn::query()->where('person_id', $this->person()->id)->findOrFail($signIn);
        Sessions::end($row, 'ended');
        SecurityLog::add(SecurityEvent::SessionEnded, $this->person());

        return $this->own($request);
    }

    private function row(Request $request): SignIn
    {
        $row = $request->attributes->get('sign-in');
        abort_unless($row instanceof SignIn, 401);

        return $row;
    }
}
