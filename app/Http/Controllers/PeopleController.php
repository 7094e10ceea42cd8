<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\People\JoinWorkshop;
use App\Actions\People\KeepOwnKeys;
use App\Actions\People\KeepPerson;
use App\Actions\Version;
use App\Http\Requests\InviteBody;
use App\Http\Requests\LogPageBody;
use App\Http\Requests\PersonBody;
use App\Http\Views\PersonView;
use App\Models\Invitation;
use App\Models\Person;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use App\Security\Sessions;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\DB;

/** The people of a workshop, as their owner keeps them; and the security log. */
final class PeopleController extends Controller
{
    private const LOG_PAGE = 60;

    public function index(Request $request): JsonResponse
    {
        return $this->list($request);
    }

    public function invite(InviteBody $request, JoinWorkshop $join): JsonResponse
    {
        [$row, $secret] = $join->invite(
            $this->person(),
            trim($request->string('name')->value()),
            $request->string('email')->value(),
            $request->string('role')->value(),
        );

        return new JsonResponse(['id' => $row->id, 'secret' => $secret, 'expires_at' => $row->expires_at->toIso8601ZuluString()], 201);
    }

    public function withdraw(Request $request, Invitation $invitation, JoinWorkshop $join): JsonResponse
    {
        $join->withdraw($this->person(), $invitation);

        return $this->list($request);
    }

    public function update(PersonBody $request, Person $colleague, KeepPerson $keep): JsonResponse
    {
        $keep->edit($this->person(), $colleague, $request->validated(), $this->version($request));

        return $this->list($request);
    }

    public function reset(Person $colleague, JoinWorkshop $join): JsonResponse
    {
        [$row, $secret] = $join->reset($this->person(), $colleague);

        return new JsonResponse(['id' => $row->id, 'secret' => $secret, 'expires_at' => $row->expires_at->toIso8601ZuluString()], 201);
    }

    public function endSessions(Request $request, Person $colleague): JsonResponse
    {
        Sessions::endAll($colleague, 'ended', $request->attributes->get('sign-in')?->id);
        SecurityLog::add(SecurityEvent::SessionEnded, $this->person(), $colleague);

        return $this->list($request);
    }

    public function endFactor(Request $request, Person $colleague, KeepOwnKeys $keep): JsonResponse
    {
        $keep->endSecondFactor($this->person(), $colleague);

        return $this->list($request);
    }

    public function log(LogPageBody $request): JsonResponse
    {
        $before = (int) ($request->validated()['before'] ?? PHP_INT_MAX);
        $rows = DB::table('security_events as e')
            ->leftJoin('people as p', 'p.id', '=', 'e.person_id')
            ->leftJoin('people as a', 'a.id', '=', 'e.about_id')
            ->where('e.workshop_id', $this->person()->workshop_id)
            ->where('e.id', '<', $before)
            ->orderByDesc('e.id')
            ->limit(self::LOG_PAGE + 1)
            ->get(['e.id', 'e.kind', 'e.data', 'e.address', 'e.request', 'e.at', 'p.name as by', 'a.name as about']);

        return new JsonResponse([
            'entries' => $rows
                ->take(self::LOG_PAGE)
                ->map(
                    fn(object $r): array => [
                        'id' => $r->id,
                        'kind' => $r->kind,
                        'words' => SecurityEvent::tryFrom($r->kind)?->words() ?? $r->kind,
                        'by' => $r->by,
                        'about' => $r->about,
                        'data' => (object) json_decode((string) $r->data, true),
                        'address' => $r->address,
                        'request' => $r->request,
                        'at' => \Carbon\CarbonImmutable::parse($r->at)->toIso8601ZuluString(),
                    ],
                )
                ->all(),
            'more' => $rows->count() > self::LOG_PAGE,
        ]);
    }

    private function list(Request $request): JsonResponse
    {
        $me = $this->person();
        $people = Person::query()->with('workshop')->where('workshop_id', $me->workshop_id)->orderByDesc('active')->orderBy('name')->get();
        $sessions = PersonView::sessions($people, $request->attributes->get('sign-in'));
        $open = Invitation::query()
            ->where('workshop_id', $me->workshop_id)
            ->whereNull('used_at')
            ->whereNull('withdrawn_at')
            ->where('expires_at', '>', now())
            ->orderBy('id')
            ->get();

        return new JsonResponse([
            'people' => $people
                ->map(
                    fn(Person $p): array => [
                        'id' => $p->id,
                        'name' => $p->name,
                        'email' => $p->email,
                        'role' => $p->role,
                        'active' => $p->active,
                        'has_code' => $p->code_hash !== null,
                        'second_factor' => $p->totp_since !== null,
                        'competence' => $p->competence,
                        'version' => Version::tag($p),
                        'sessions' => $sessions[$p->id],
                    ],
                )
                ->all(),
            'invitations' => $open
                ->map(
                    fn(Invitation $i): array => [
                        'id' => $i->id,
                        'kind' => $i->kind,
                        'name' => $i->name,
                        'role' => $i->role,
                        'expires_at' => $i->expires_at->toIso8601ZuluString(),
                    ],
                )
                ->all(),
        ]);
    }
}
