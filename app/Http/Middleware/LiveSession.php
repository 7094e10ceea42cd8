<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use App\Http\ErrorShape;
use App\Models\Person;
use App\Models\SignIn;
use App\Security\AccessLimits;
use App\Security\Sessions;
use Carbon\CarbonImmutable;
use Closure;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/**
 * Lets a request through while its session goes on: not ended, not idle for too long, not too old, its person not disabled, and the
 * one the screen shows.
 */
final class LiveSession
{
    /** What an owner without the second factor that the shop wants may still reach. */
    private const BEFORE_SECOND_FACTOR = [
        'api/session',
        'api/session/prove',
        'api/me/second-factor',
        'api/me/second-factor/confirm',
        'api/colleagues',
        'api/session/hand-over',
    ];

    public function handle(Request $request, Closure $next): Response
    {
        $person = $request->user();
        $row = Sessions::current($request);
        if (!($person instanceof Person) || !($row instanceof SignIn) || $row->person_id !== $person->id) {
            Sessions::leave($request);

            return ErrorShape::make(401, 'signed-out', 'You are signed out. Sign in again: what you typed is kept.');
        }
        $settings = $person->workshop->said();
        $now = CarbonImmutable::now();
        $why = Sessions::over($row, $person, $settings, $now);
        if ($why !== null) {
            Sessions::end($row, $why);
            Sessions::leave($request);

            return ErrorShape::make(401, 'signed-out', Sessions::words($why, $settings));
        }
        // A screen that was left open for one person does not act for the next.
        $shown = $request->header('X-Heartwood-Person');
        if ($shown !== null && $shown !== (string) $person->id) {
            return ErrorShape::make(
                409,
                'other-person',
                "This screen was opened by somebody else; {$person->name} is at the bench now. Look again before you go on.",
            );
        }
        if (
            $person->role === 'owner' &&
            $person->totp_since === null &&
            $settings->on('owner_second_factor') &&
            !in_array($request->path(), self::BEFORE_SECOND_FACTOR, true)
        ) {
            return ErrorShape::make(403, 'second-factor-first', 'This workshop wants a second factor of its owners: set it up first.');
        }
        // A screen that only looks again by itself is no touch.
        if ($request->header('X-Heartwood-Quiet') === null && $row->seen_at->diffInSeconds($now) >= AccessLimits::SEEN_EVERY_S) {
            SignIn::query()
                ->where('id', $row->id)
                ->update(['seen_at' => $now]);
        }
        $request->attributes->set('sign-in', $row);

        return $next($request);
    }
}
