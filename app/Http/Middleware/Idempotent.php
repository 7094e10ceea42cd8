<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use App\Http\ErrorShape;
use Closure;
use Illuminate\Database\QueryException;
use Illuminate\Database\UniqueConstraintViolationException;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Support\Arr;
use Illuminate\Support\Facades\Crypt;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\Response;

/**
 * A write that can be repeated: the key is stored with the hash of the body and the response in the transaction of
 * the write itself. The same key again gives the stored response; the same key with another body is refused.
 */
final class Idempotent
{
    private const TRIES = 4;

    /** The database's numbers for a deadlock and for a lock that was waited for too long. */
    private const AGAIN = [1213, 1205];

    public function handle(Request $request, Closure $next): Response
    {
        $key = (string) $request->headers->get('Idempotency-Key');
        if (!Str::isUuid($key)) {
            return ErrorShape::make(400, 'no-key', 'This request needs an Idempotency-Key header with a UUID.');
        }
        $person = $request->user()?->getAuthIdentifier();
        $hash = self::hash($request);

        for ($try = 1; ; $try++) {
            $response = $this->once($request, $next, $key, $person, $hash);
            // Two at once that waited for one another: the database has undone this one, and it is done again from the start.
            if (
                $try === self::TRIES ||
                !(($response->exception ?? null) instanceof QueryException) ||
                !in_array($response->exception->errorInfo[1] ?? 0, self::AGAIN, true)
            ) {
                return $response;
            }
            usleep(random_int(5_000, 40_000));
        }
    }

    /** Everything that the request says: its body, or the parts of a form with the files that came with them. */
    private static function hash(Request $request): string
    {
        $context = hash_init('sha256');
        hash_update(
            $context,
            $request->method() .
                ' ' .
                $request->getRequestUri() .
                "\n" .
                $request->headers->get('If-Match', '') .
                "\n" .
                $request->getContent(),
        );
        if (str_starts_with((string) $request->headers->get('Content-Type'), 'multipart/')) {
            hash_update($context, serialize($request->request->all()));
            foreach (Arr::dot($request->files->all()) as $name => $file) {
                hash_update(
                    $context,
                    "\n$name\n" .
                        ($file instanceof UploadedFile
                            ? $file->getClientOriginalName() . "\n" . hash_file('sha256', $file->getPathname())
                            : ''),
                );
            }
        }

        return hash_final($context);
    }

    private function once(Request $request, Closure $next, string $key, mixed $person, string $hash): Response
    {
        DB::beginTransaction();
        try {
            DB::table('idempotency_keys')->insert(['person_id' => $person, 'key' => $key, 'body_hash' => $hash, 'created_at' => now()]);
        } catch (UniqueConstraintViolationException) {
            DB::rollBack();

            return $this->replay($person, $key, $hash);
        }
        try {
            $response = $next($request);
        } catch (\Throwable $e) {
            DB::rollBack();
            throw $e;
        }
        if ($response->getStatusCode() >= 400) {
            DB::rollBack();

            return $response;
        }
        DB::table('idempotency_keys')
            ->where('person_id', $person)
            ->where('key', $key)
            ->update(['status' => $response->getStatusCode(), 'response' => Crypt::encryptString((string) $response->getContent())]);
        DB::commit();

        return $response;
    }

    private function replay(mixed $person, string $key, string $hash): JsonResponse
    {
        $stored = DB::table('idempotency_keys')->where('person_id', $person)->where('key', $key)->first();
        if ($stored === null || $stored->status === null) {
            return ErrorShape::make(409, 'in-progress', 'The same request is still being worked on: repeat it in a moment.');
        }
        if ($stored->body_hash !== $hash) {
            return ErrorShape::make(409, 'key-reused', 'This key was used for another request: use a new one.');
        }

        return (new JsonResponse(json_decode(Crypt::decryptString((string) $stored->response)), (int) $stored->status))->header(
            'Idempotency-Replayed',
            'true',
        );
    }
}
