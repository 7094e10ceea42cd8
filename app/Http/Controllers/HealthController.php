<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Support\Health;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Response;

/** How the server is, part by part; asked without a session. */
final class HealthController extends Controller
{
    public function show(): JsonResponse
    {
        $parts = Health::parts();
        $ok = !in_array(false, array_column($parts, 'ok'), true);

        return new JsonResponse(['ok' => $ok, 'parts' => $parts], $ok ? 200 : 503);
    }

    public function metrics(): Response
    {
        return new Response(Health::metrics(), 200, ['Content-Type' => 'text/plain; version=0.0.4; charset=utf-8']);
    }
}
