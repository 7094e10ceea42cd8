<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\KeepServicePhoto;
use App\Actions\KeepServiceReading;
use App\Actions\OpenPackLink;
use App\Http\Requests\ServicePhotoBody;
use App\Http\Requests\ServiceReadingsBody;
use App\Http\Views\OwnerView;
use App\Models\PackLink;
use App\Models\ServiceReading;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\UploadedFile;

/** The owner's page of one pack: known by the secret that it sends, and by no cookie. */
final class OwnerController extends Controller
{
    public function show(Request $request): JsonResponse
    {
        return self::told(OwnerView::of($this->held($request)->pack));
    }

    public function read(ServiceReadingsBody $request, KeepServiceReading $keep): JsonResponse
    {
        $link = $this->held($request);
        $readings = $request->readings();
        OpenPackLink::pace($link, count($readings));
        [$kept, $pack] = $keep->keep($link, $link->pack, $readings);

        return self::told(
            ['answers' => array_map(fn(ServiceReading $r): array => ['id' => $r->id] + (array) $r->answer, $kept)] + OwnerView::of($pack),
            201,
        );
    }

    /** A photo of its display, beside a reading. */
    public function photo(ServicePhotoBody $request, KeepServicePhoto $keep): JsonResponse
    {
        $link = $this->held($request);
        $in = $request->validated();
        /** @var UploadedFile $file */
        $file = $request->file('file');
        $known = $keep->take($link, (string) $file->getRealPath(), [
            'id' => (string) $in['id'],
            'reading' => $in['reading'] ?? null,
            'at' => $in['at'] ?? null,
        ]);

        return self::told(['id' => $in['id']], $known ? 200 : 201);
    }

    /** @param  array<string, mixed>  $what */
    private static function told(array $what, int $status = 200): JsonResponse
    {
        return new JsonResponse($what, $status);
    }

    private function held(Request $request): PackLink
    {
        return OpenPackLink::of((string) $request->headers->get('X-Pack-Link'), (string) $request->ip());
    }
}
