<?php

declare(strict_types=1);

namespace App\Http;

use App\Actions\Refused;
use Heartwood\Core\Record\InvalidRecord;
use Illuminate\Auth\Access\AuthorizationException;
use Illuminate\Auth\AuthenticationException;
use Illuminate\Database\Eloquent\ModelNotFoundException;
use Illuminate\Foundation\Configuration\Exceptions;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
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
        $exceptions->shouldRenderJsonWhen(fn (Request $request): bool => $request->is('api/*'));
        $exceptions->render(function (\Throwable $e, Request $request): ?JsonResponse {
            if (! $request->is('api/*')) {
                return null;
            }

            $response = match (true) {
                $e instanceof Refused => self::make($e->status, $e->reason, $e->getMessage(), $e->fields, $e->more)->withHeaders($e->headers),
                $e instanceof ValidationException => self::make(422, 'invalid', $e->getMessage(), array_map(fn (array $m): string => (string) $m[0], $e->errors())),
                $e instanceof InvalidRecord => self::make(422, 'invalid-record', 'The record cannot be read.', array_column($e->problems, 'message', 'pointer')),
                $e instanceof AuthenticationException => self::make(401, 'signed-out', 'You are signed out. Sign in again: what you typed is kept.'),
                $e instanceof TokenMismatchException, $e instanceof HttpException && $e->getStatusCode() === 419 => self::make(419, 'session-expired', 'The session has expired. Sign in again: what you typed is kept.'),
                $e instanceof AuthorizationException, $e instanceof HttpException && $e->getStatusCode() === 403 => self::make(403, 'no-right', 'Your role may not do this. Ask a senior or the owner.'),
                $e instanceof ModelNotFoundException, $e instanceof NotFoundHttpException => self::make(404, 'not-found', 'There is nothing at this address.'),
                $e instanceof HttpExceptionInterface => self::make($e->getStatusCode(), 'http', $e->getMessage() ?: 'The request was not understood.'),
                default => self::make(500, 'fault', 'Something broke on the server. Nothing was half-written; try again.'),
            };
            // The answer is made outside the layers that name and guard it, where the fault came from one of them.
            $response->headers->set('X-Request-Id', RequestId::current());

            return $response;
        });
    }

    /**
     * @param  array<string, string>  $fields
     * @param  array<string, mixed>  $more
     */
    public static function make(int $status, string $code, string $message, array $fields = [], array $more = []): JsonResponse
    {
        return new JsonResponse(['code' => $code, 'message' => $message, 'fields' => (object) $fields, 'request' => RequestId::current()] + $more, $status);
    }
}
