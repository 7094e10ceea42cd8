<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\ImportPassport;
use App\Actions\KeepPack;
use App\Actions\KeepServiceReading;
use App\Actions\OpenPackLink;
use App\Actions\Version;
use App\Http\Requests\FindPackBody;
use App\Http\Requests\ImportPassportBody;
use App\Http\Requests\PackOwnerBody;
use App\Http\Requests\PastedBody;
use App\Http\Requests\ServiceReadingsBody;
use App\Http\Requests\TakeBackBody;
use App\Models\Pack;
use App\Models\ServicePhoto;
use App\Models\ServiceReading;
use App\Read\FoundPacks;
use App\Read\Passport;
use App\Read\PassportExport;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use Heartwood\Core\Drift\State;
use Heartwood\Core\Service\PastedReadings;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Response;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Symfony\Component\HttpFoundation\BinaryFileResponse;

/** Packs over all their jobs: found, seen with all that is known, read in service, handed on. */
final class PackController extends Controller
{
    private const SHOWN = 100;

    public function index(FindPackBody $request): JsonResponse
    {
        $in = $request->validated();
        $found = FoundPacks::of(
            $this->person()->workshop_id,
            trim((string) ($in['q'] ?? '')),
            (bool) ($in['due'] ?? false),
            isset($in['customer']) ? (int) $in['customer'] : null,
            self::SHOWN + 1,
        );

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
                        'stopped' => $p->stopped_at !== null,
                        'glance' => $p->glance,
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

    /** Readings out of pasted text: computed only, nothing is written. */
    public function pasted(PastedBody $request, Pack $pack): JsonResponse
    {
        $in = $request->validated();
        $read = PastedReadings::of(
            (string) $in['text'],
            $pack->packSpec()->series,
            (string) $in['date'],
            (string) $in['condition'],
            new \DateTimeZone($this->person()->workshop->said()->text('timezone')),
        );

        return new JsonResponse([
            'readings' => array_map(
                fn(array $r): array => ['id' => (string) Str::uuid7()] + $r,
                array_slice($read->readings, 0, ServiceReadingsBody::MOST),
            ),
            'wrong' =>
                count($read->readings) > ServiceReadingsBody::MOST
                    ? [sprintf('%d readings: at most %d at once.', count($read->readings), ServiceReadingsBody::MOST)]
                    : $read->wrong,
            'notes' => $read->notes,
        ]);
    }

    /** All that is known of it as one open file, without anybody's name. */
    public function export(Pack $pack): Response
    {
        SecurityLog::add(SecurityEvent::Exported, $this->person(), null, ['what' => 'passport', 'pack' => $pack->id]);
        $flags = JSON_PRETTY_PRINT | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_THROW_ON_ERROR;

        return new Response(json_encode(PassportExport::of($pack), $flags), 200, [
            'Content-Type' => 'application/json',
            'Content-Disposition' => "attachment; filename=\"heartwood-passport-{$pack->code}.json\"",
        ]);
    }

    public function import(ImportPassportBody $request, ImportPassport $import): JsonResponse
    {
        $in = $request->validated();

        return new JsonResponse(
            Passport::of($import->handle($this->person(), (string) $in['passport'], trim((string) $in['customer']))),
            201,
        );
    }

    /** What its owner photographed of its display. */
    public function display(Pack $pack, ServicePhoto $servicePhoto, string $size): BinaryFileResponse
    {
        abort_unless($servicePhoto->pack_id === $pack->id, 404);

        return PhotoController::file($servicePhoto->sha256, $size);
    }
}
