<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\KeepPack;
use App\Actions\KeepServiceReading;
use App\Actions\OpenPackLink;
use App\Actions\Version;
use App\Http\Requests\FindPackBody;
use App\Http\Requests\PackOwnerBody;
use App\Http\Requests\ServiceReadingsBody;
use App\Http\Requests\TakeBackBody;
use App\Models\Pack;
use App\Models\ServiceReading;
use App\Read\Passport;
use Heartwood\Core\Drift\State;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Http\JsonResponse;
use Illuminate\Support\Facades\DB;

/** Packs over all their jobs: found, seen with all that is known, read in service, handed on. */
final class PackController extends Controller
{
    private const SHOWN = 100;

    public function index(FindPackBody $request): JsonResponse
    {
        $in = $request->validated();
        $term = trim((string) ($in['q'] ?? ''));
        $like = addcslashes($term, '%_\\') . '%';
        $code = strtoupper(str_replace(['-', ' '], '', $term));
        $found = Pack::query()
            ->with('customer')
            ->where('workshop_id', $this->person()->workshop_id)
            ->when($in['due'] ?? false, fn(Builder $q) => $q->whereNotNull('next_at')->orderBy('next_at'))
            ->when(
                $term !== '',
                fn(Builder $q) => $q->where(
                    fn(Builder $w) => $w->where('code', $code)->orWhere('serial', 'like', $like)->orWhere('name', 'like', $like),
                ),
            )
            ->orderByDesc('id')
            ->limit(self::SHOWN + 1)
            ->get();

        return new JsonResponse([
            'packs' => $found
                ->take(self::SHOWN)
                ->map(
                    fn(Pack $p): array => [
                        'id' => $p->id,
                        'code' => Passport::code($p->code),
                        'name' => $p->name,
                        'serial' => $p->serial,
                        'customer' => $p->customer->name,
                        'state' => $p->state,
                        'words' => State::tryFrom($p->state)?->words() ?? '',
                        'next_at' => $p->next_at?->toIso8601ZuluString(),
                        'due' => $p->next_at !== null && $p->next_at->isPast(),
                    ],
                )
                ->all(),
            'more' => $found->count() > self::SHOWN,
        ]);
    }

    public function show(Pack $pack): JsonResponse
    {
        return (new JsonResponse(Passport::of($pack)))->header('ETag', Version::tag($pack));
    }

    public function read(ServiceReadingsBody $request, Pack $pack, KeepServiceReading $keep): JsonResponse
    {
        [, $pack] = $keep->keep($this->person(), $pack, $request->readings());

        return new JsonResponse(Passport::of($pack), 201);
    }

    public function takeBack(TakeBackBody $request, Pack $pack, ServiceReading $serviceReading, KeepServiceReading $keep): JsonResponse
    {
        abort_unless($serviceReading->pack_id === $pack->id, 404);

        return new JsonResponse(
            Passport::of($keep->takeBack($this->person(), $pack, $serviceReading, (string) $request->validated()['reason'])),
        );
    }

    public function owner(PackOwnerBody $request, Pack $pack, KeepPack $keep): JsonResponse
    {
        return $this->show(
            $keep->change($this->person(), $pack, trim((string) $request->validated()['customer']), $this->version($request)),
        );
    }

    /** A link to the owner's page: its secret is said this once. */
    public function open(Pack $pack, OpenPackLink $open): JsonResponse
    {
        [, $secret] = $open->open($this->person(), $pack);

        return new JsonResponse(['secret' => $secret] + Passport::of($pack), 201);
    }

    public function withdraw(Pack $pack, OpenPackLink $open): JsonResponse
    {
        DB::transaction(fn() => $open->end($this->person(), $pack));

        return new JsonResponse(Passport::of($pack));
    }
}
