<?php

declare(strict_types=1);

namespace App\Http;

use App\Actions\Refused;
use Heartwood\Core\Record\InvalidRecord;
use Illuminate\Auth\Access\AuthorizationException;
use Illuminate\Auth\AuthenticationException;
use Illuminate\Database\Eloquent\ModelNotFoundException;
use Illuminate\Database\QueryException;
use Illuminate\Database\UniqueConstraintViolationException;
use Illuminate\Foundation\Configuration\Exceptions;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Session\TokenMismatchException;
use Illuminate\Validation\ValidationException;
use Symfony\Component\HttpKernel\Exception\HttpException;
use Symfony\Component\HttpKernel\Exception\HttpExceptionInterface;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;

/** Every error of the API in one shape: code, a sentence that says what and how to mend it, fields where they matter. */
final class ErrorShape
{
    public static function register(Exceptions $exceptions): void
    {
        $exceptions->dontReport([Refused::class, InvalidRecord::class]);
        $exceptions->shouldRenderJsonWhen(fn(Request $request): bool => $request->is('api/*'));
        $exceptions->render(function (\Throwable $e, Request $request): JsonResponse|Response|null {
            if (!$request->is('api/*')) {
                // A page that cannot be opened says so in words, and looks again by itself.
                return self::isAway($e) || self::isFull($e)
                    ? new Response((string) file_get_contents(public_path('away.html')), 503, [
                        'Content-Type' => 'text/html',
                        'Retry-After' => '5',
                    ])
                    : null;
            }

            $response = match (true) {
                $e instanceof Refused => self::make($e->status, $e->reason, $e->getMessage(), $e->fields, $e->more)->withHeaders(
                    $e->headers,
                ),
                $e instanceof ValidationException => self::make(
                    422,
                    'invalid',
                    $e->getMessage(),
                    array_map(fn(array $m): string => (string) $m[0], $e->errors()),
                ),
                $e instanceof InvalidRecord => self::make(
                    422,
                    'invalid-record',
                    'The record cannot be read.',
                    array_column($e->problems, 'message', 'pointer'),
                ),
                $e instanceof AuthenticationException => self::make(
                    401,
                    'signed-out',
                    'You are signed out. Sign in again: what you typed is kept.',
                ),
                $e instanceof TokenMismatchException, $e instanceof HttpException && $e->getStatusCode() === 419 => self::make(
                    419,
                    'session-expired',
                    'The session has expired. Sign in again: what you typed is kept.',
                ),
                $e instanceof AuthorizationException, $e instanceof HttpException && $e->getStatusCode() === 403 => self::make(
                    403,
                    'no-right',
                    'Your role may not do this. Ask a senior or the owner.',
                ),
                $e instanceof ModelNotFoundException, $e instanceof NotFoundHttpException => self::make(
                    404,
                    'not-found',
                    'There is nothing at this address.',
                ),
                $e instanceof HttpExceptionInterface => self::make(
                    $e->getStatusCode(),
                    'http',
                    $e->getMessage() ?: 'The request was not understood.',
                ),
                self::isAway($e) => self::make(
                    503,
                    'no-database',
                    'The database does not answer. Nothing was half-written, and what you typed is kept: it is tried again. ' .
                        '(./heartwood status)',
                )->withHeaders(['Retry-After' => '5']),
                self::isFull($e) => self::make(
                    507,
                    'disk-full',
                    'The disk of the server is full: nothing is stored until somebody makes room. What you typed is kept on this bench.',
                ),
                self::collided($e) => self::make(409, 'at-once', 'Somebody did the same at this very moment: look again, then repeat it.'),
                default => self::make(500, 'fault', 'Something broke on the server. Nothing was half-written; try again.'),
            };
            // The answer is made outside the layers that name and guard it, where the fault came from one of them.
            $response->headers->set('X-Request-Id', RequestId::current());

            return $response;
        });
    }

    /** No connection, a lost one, or an answer that did not come in time (MariaDB's numbers of the client and the server). */
    private static function isAway(\Throwable $e): bool
    {
        $pdo = $e instanceof \PDOException ? $e : $e->getPrevious();

        return $pdo instanceof \PDOException &&
            (in_array((int) ($pdo->errorInfo[1] ?? $pdo->getCode()), [1040, 1053, 1927, 2002, 2003, 2006, 2013, 4031], true) ||
                str_contains($pdo->getMessage(), 'gone away') ||
                str_contains($pdo->getMessage(), 'Connection refused'));
    }

    private static function isFull(\Throwable $e): bool
    {
        $pdo = $e instanceof \PDOException ? $e : $e->getPrevious();

        return ($pdo instanceof \PDOException && in_array((int) ($pdo->errorInfo[1] ?? 0), [3, 28, 1021, 1026, 1114], true)) ||
            str_contains($e->getMessage(), 'No space left on device');
    }

    /** Two that met: a row that was there first, a deadlock, a lock waited for too long. */
    private static function collided(\Throwable $e): bool
    {
        return $e instanceof UniqueConstraintViolationException ||
            ($e instanceof QueryException && in_array((int) ($e->errorInfo[1] ?? 0), [1205, 1213], true));
    }

    /**
     * @param  array<string, string>  $fields
     * @param  array<string, mixed>  $more
     */
    public static function make(int $status, string $code, string $message, array $fields = [], array $more = []): JsonResponse
    {
        return new JsonResponse(
            ['code' => $code, 'message' => $message, 'fields' => (object) $fields, 'request' => RequestId::current()] + $more,
            $status,
        );
    }
}
