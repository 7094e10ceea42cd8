<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use App\Http\ErrorShape;
use App\Models\SignIn;
use App\Security\AccessLimits;
use Carbon\CarbonImmutable;
use Closure;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/** For what is not undone easily: the password was proved by this person, in this session, a short while ago. */
final class Proved
{
    public function handle(Request $request, Closure $next): Response
    {
        $row = $request->attributes->get('sign-in');
        if (
            !($row instanceof SignIn) ||
            $row->proved_at === null ||
            $row->proved_at->addMinutes(AccessLimits::PROVED_MINUTES)->lessThanOrEqualTo(CarbonImmutable::now())
        ) {
            return ErrorShape::make(403, 'prove', 'Type your password again: this wants to be sure that it is you.');
        }

        return $next($request);
    }
}
