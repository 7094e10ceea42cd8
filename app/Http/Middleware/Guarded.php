<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use App\Http\ErrorShape;
use Closure;
use Illuminate\Http\Request;
use Illuminate\Http\Response as Plain;
use Illuminate\Support\Facades\Vite;
use Symfony\Component\HttpFoundation\Response;

/** Answers only to the names of this server, and says with every answer what a browser may do with it. */
final class Guarded
{
    public function handle(Request $request, Closure $next): Response
    {
        $host = strtolower((string) preg_replace('/:\d+$/', '', (string) $request->headers->get('Host', '')));
        if (!in_array($host, (array) config('heartwood.hosts'), true)) {
            $response = $request->is('api/*')
                ? ErrorShape::make(421, 'other-host', 'This server does not answer to that name.')
                : new Plain('This server does not answer to that name.', 421, ['Content-Type' => 'text/plain']);

            return self::shield($response, '');
        }
        // Styles that a dialog adds while it is open carry this word; nothing else inline runs.
        $nonce = Vite::useCspNonce();

        return self::shield($next($request), $nonce);
    }

    private static function shield(Response $response, string $nonce): Response
    {
        $styles = $nonce === '' ? "'self'" : "'self' 'nonce-$nonce'";
        $response->headers->add([
            'Content-Security-Policy' => implode('; ', [
                "default-src 'none'",
                "script-src 'self'",
                "worker-src 'self'",
                "style-src $styles",
                "img-src 'self' data: blob:",
                "font-src 'self'",
                "connect-src 'self'",
                "manifest-src 'self'",
                "base-uri 'none'",
                "form-action 'self'",
                "frame-ancestors 'none'",
            ]),
            'X-Content-Type-Options' => 'nosniff',
            // Nothing here is for a search engine, least of all the page behind a link.
            'X-Robots-Tag' => 'noindex',
            'X-Frame-Options' => 'DENY',
            'Referrer-Policy' => 'same-origin',
            'Cross-Origin-Opener-Policy' => 'same-origin',
            'Cross-Origin-Resource-Policy' => 'same-origin',
            'Permissions-Policy' => 'camera=(self), microphone=(), geolocation=(), payment=(), usb=(), serial=(), bluetooth=()',
        ]);
        if (request()->isSecure()) {
            $response->headers->set('Strict-Transport-Security', 'max-age=31536000');
        }
        // Whatever the application answers is somebody's: it is kept nowhere on the way.
        if (!$response->headers->hasCacheControlDirective('immutable')) {
            $response->headers->set('Cache-Control', 'no-store, private');
        }

        return $response;
    }
}
