<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\KeepPhoto;
use App\Actions\OpenPhoneLink;
use App\Http\Requests\PhotoBody;
use App\Http\Requests\PhotoChangeBody;
use App\Http\Views\PhotoView;
use App\Models\Job;
use App\Models\PhoneLink;
use App\Models\Photo;
use App\Support\PhotoStore;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\UploadedFile;
use Symfony\Component\HttpFoundation\BinaryFileResponse;

/** Photos of a job, at the bench and from a phone that holds a link to it. */
final class PhotoController extends Controller
{
    public function index(Job $job): JsonResponse
    {
        return new JsonResponse(PhotoView::ofJob($job));
    }

    public function store(PhotoBody $request, Job $job, KeepPhoto $keep): JsonResponse
    {
        [$photo, $known] = $keep->take($this->person(), $job, $this->upload($request), $this->about($request));

        return new JsonResponse(PhotoView::row($photo), $known ? 200 : 201);
    }

    public function update(PhotoChangeBody $request, Photo $photo, KeepPhoto $keep): JsonResponse
    {
        return new JsonResponse(PhotoView::row($keep->change($this->person(), $photo, $request->validated(), $this->version($request))));
    }

    public function show(Photo $photo, string $size): BinaryFileResponse
    {
        return self::file($photo->sha256, $size);
    }

    public static function file(string $sha, string $size): BinaryFileResponse
    {
        $response = new BinaryFileResponse(PhotoStore::path($sha, $size === 'small'));
        $response->headers->set('Content-Type', 'image/jpeg');
        // What lies under a hash never changes; it is this person's browser's alone.
        $response->headers->set('Cache-Control', 'private, max-age=604800, immutable');

        return $response;
    }

    public function link(Job $job, OpenPhoneLink $open): JsonResponse
    {
        [$link, $secret] = $open->open($this->person(), $job);

        return new JsonResponse(['secret' => $secret, 'until' => $link->expires_at->toIso8601ZuluString()], 201);
    }

    public function endLink(Job $job, OpenPhoneLink $open): JsonResponse
    {
        $open->end($this->person(), $job);

        return $this->index($job);
    }

    /** What a phone is told: which pack, until when, how many have come. Nothing of people. */
    public function phone(Request $request): JsonResponse
    {
        return $this->told($this->held($request));
    }

    public function fromPhone(PhotoBody $request, KeepPhoto $keep): JsonResponse
    {
        $link = $this->held($request);
        [, $known] = $keep->take($link, $link->job, $this->upload($request), $this->about($request));

        return $this->told($link->refresh(), $known ? 200 : 201);
    }

    private function held(Request $request): PhoneLink
    {
        return OpenPhoneLink::of((string) $request->headers->get('X-Phone-Link'), (string) $request->ip());
    }

    private function told(PhoneLink $link, int $status = 200): JsonResponse
    {
        return new JsonResponse(
            [
                'name' => $link->job->name,
                'number' => $link->job->number,
                'until' => $link->expires_at->toIso8601ZuluString(),
                'taken' => $link->taken,
            ],
            $status,
        );
    }

    /** @return array{id: string, about?: string|null, at?: string|null} */
    private function about(PhotoBody $request): array
    {
        $in = $request->validated();

        return ['id' => (string) $in['id'], 'about' => $in['about'] ?? '', 'at' => $in['at'] ?? null];
    }

    private function upload(Request $request): string
    {
        /** @var UploadedFile $file */
        $file = $request->file('file');

        return (string) $file->getRealPath();
    }
}
