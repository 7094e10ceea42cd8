<?php

declare(strict_types=1);

namespace App\Security;

use App\Models\Person;
use App\Models\SignIn;
use Carbon\CarbonImmutable;
use Heartwood\Core\Shop\Settings;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\Auth;
use Illuminate\Support\Str;

/** Opens, hands over, checks and ends sessions. The row in `sign_ins` decides; the cookie only names it. */
final class Sessions
{
    public const KEY = 'sign-in';

    /** How a person came in. A code is good within a session that a password has opened. */
    public const PASSWORD = 'password';

    public const CODE = 'code';

    /** @param  CarbonImmutable|null  $openedAt  when the session of this bench was opened by a password, where it goes on */
    public static function open(Request $request, Person $person, string $how, ?CarbonImmutable $openedAt = null): SignIn
    {
        $now = CarbonImmutable::now();
        Auth::login($person);
        $request->session()->regenerate(true);
        $request->session()->regenerateToken();
        $row = SignIn::query()->create([
            'id' => (string) Str::uuid7(),
            'workshop_id' => $person->workshop_id,
            'person_id' => $person->id,
            'how' => $how,
            'address' => (string) $request->ip(),
            'agent' => mb_substr(mb_scrub((string) $request->userAgent()), 0, 200),
            'opened_at' => $openedAt ?? $now,
            'started_at' => $now,
            'seen_at' => $now,
            'proved_at' => $how === self::PASSWORD ? $now : null,
        ]);
        $request->session()->put(self::KEY, $row->id);

        return $row;
    }

    public static function current(Request $request): ?SignIn
    {
        $id = $request->session()->get(self::KEY);

        return is_string($id) ? SignIn::query()->find($id) : null;
    }

    /** Why this session is over, null while it goes on. */
    public static function over(SignIn $row, Person $person, Settings $settings, CarbonImmutable $now): ?string
    {
        return match (true) {
            $row->ended_at !== null => $row->why,
            !$person->active => 'disabled',
            $now->greaterThanOrEqualTo($row->opened_at->addMinutes(60 * $settings->int('absolute_hours'))) => 'absolute',
            $now->greaterThanOrEqualTo($row->seen_at->addMinutes($settings->int('idle_minutes'))) => 'idle',
            default => null,
        };
    }

    public static function end(SignIn $row, string $why): void
    {
        SignIn::query()
            ->where('id', $row->id)
            ->whereNull('ended_at')
            ->update(['ended_at' => now(), 'why' => $why]);
    }

    /** @param  string|null  $but  the session that stays */
    public static function endAll(Person $person, string $why, ?string $but = null): int
    {
        return SignIn::query()
            ->where('person_id', $person->id)
            ->whereNull('ended_at')
            ->when($but !== null, fn($q) => $q->where('id', '!=', $but))
            ->update(['ended_at' => now(), 'why' => $why]);
    }

    /** Takes the browser's session away, whoever it was. */
    public static function leave(Request $request): void
    {
        Auth::logout();
        $request->session()->invalidate();
        $request->session()->regenerateToken();
    }

    /** Words for the person who finds the session gone. */
    public static function words(string $why, Settings $settings): string
    {
        $said = match ($why) {
            'idle' => sprintf('You were signed out after %d minutes without a touch.', $settings->int('idle_minutes')),
            'absolute' => sprintf('You were signed out: a session lasts %d hours at most.', $settings->int('absolute_hours')),
            'password' => 'You were signed out: the password was changed.',
            'disabled' => 'This account is disabled. Ask the owner.',
            'ended' => 'This session was ended from another place.',
            default => 'You are signed out.',
        };

        return $why === 'disabled' ? $said : "$said Sign in again: what you typed is kept.";
    }
}
