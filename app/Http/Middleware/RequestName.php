<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use App\Http\RequestId;
use Closure;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\Log;
use Symfony\Component\HttpFoundation\Response;

/** Every request has a name, in its answer and in every line that the log has of it. */
final class RequestName
{
    public function handle(Request $request, Closure $next): Response
    {
        $id = RequestId::current();
        Log::withContext(['request' => $id, 'method' => $request->method(), 'path' => $request->path()]);
        $response = $next($request);
        $response->headers->set('X-Request-Id', $id);

        return $response;
    }
}
