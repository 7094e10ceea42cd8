<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use App\Http\ErrorShape;
use Closure;
use Illuminate\Http\Request;
use Illuminate\Support\Arr;
use Symfony\Component\HttpFoundation\Response;

/** A number that no number holds (1e999) is refused with its field, before any rule reckons with it. */
final class Finite
{
    public function handle(Request $request, Closure $next): Response
    {
        if ($request->isJson()) {
            foreach (Arr::dot($request->json()->all()) as $field => $value) {
                if (is_float($value) && !is_finite($value)) {
                    return ErrorShape::make(422, 'invalid', "The number of $field is too large to be one.", [
                        (string) $field => 'This is too large to be a number.',
                    ]);
                }
            }
        }

        return $next($request);
    }
}
