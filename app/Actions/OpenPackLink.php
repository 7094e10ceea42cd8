<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Pack;
use App\Models\PackLink;
use App\Models\Person;
use App\Security\AccessLimits;
use App\Security\Attempts;
use App\Security\Secrets;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use Illuminate\Support\Facades\DB;

/** An owner's page of one pack, by a link without an account: opened at the bench, one at a time, withdrawn by one touch. */
final class OpenPackLink
{
    public const GONE = 'This link is not good any more. Ask the workshop for a new one.';

    /** Letters of an address that are kept. */
    private const ADDRESS_LONG = 45;

    /** @return array{PackLink, string} and its secret, said this once; the one before is withdrawn */
    public function open(Person $person, Pack $pack): array
    {
        return DB::transaction(function () use ($person, $pack): array {
            Pack::query()->lockForUpdate()->findOrFail($pack->id);
            $this->end($person, $pack);
            $secret = Secrets::link();
            $link = PackLink::query()->create([
                'workshop_id' => $pack->workshop_id,
                'pack_id' => $pack->id,
                'hash' => Secrets::linkHash($secret),
                'opened_by' => $person->id,
                'opened_at' => now(),
            ]);
            EventLog::add($person, null, EventKind::OwnerLink, ['pack' => $pack->id, 'open' => true]);

            return [$link, $secret];
        });
    }

    public function end(Person $person, Pack $pack): void
    {
        $ended = PackLink::query()
            ->where('pack_id', $pack->id)
            ->whereNull('ended_at')
            ->update(['ended_at' => now()]);
        if ($ended > 0) {
            EventLog::add($person, null, EventKind::OwnerLink, ['pack' => $pack->id, 'open' => false]);
        }
    }

    /**
     * The link behind a secret. What is guessed, and what was withdrawn, is counted and said in the security log.
     *
     * @throws Refused it is none, was withdrawn, or too many were tried from this address
     */
    public static function of(string $secret, string $address): PackLink
    {
        $link = PackLink::query()->where('hash', Secrets::linkHash($secret))->with('pack')->first();
        if ($link === null || $link->ended_at !== null) {
            // Counted before it is noted: who is held off fills no log.
            // Apart from the sign-ins of that address: an owner's phone in the shop's own network locks nobody out.
            Attempts::take(
                Attempts::account("owner links from $address"),
                substr("o/$address", 0, self::ADDRESS_LONG),
                AccessLimits::ADDRESS_FAILURES,
            );
            $why = ['why' => $link === null ? 'unknown' : 'withdrawn'];
            SecurityLog::add(SecurityEvent::OwnerLinkRefused, null, null, $why, $link?->workshop_id);
            throw new Refused('no-link', self::GONE, 404);
        }

        return $link;
    }

    /**
     * So many readings by one link in an hour, and no more.
     *
     * @param  int  $more  that come now
     *
     * @throws Refused
     */
    public static function pace(PackLink $link, int $more): void
    {
        $since = now()->subHour();
        $count = DB::table('service_readings')->where('pack_link_id', $link->id)->where('told_at', '>', $since)->count();
        if ($count + $more > AccessLimits::OWNER_READINGS_HOUR) {
            self::flooded($link, 'Too many readings in one hour. Wait, then send it again: it is kept on this phone.');
        }
    }

    /** @throws Refused always, and says so in the security log */
    public static function flooded(PackLink $link, string $text): never
    {
        $why = ['pack' => $link->pack_id, 'why' => 'flooded'];
        SecurityLog::add(SecurityEvent::OwnerLinkRefused, null, null, $why, $link->workshop_id);
        throw new Refused('too-many', $text, 429, [], ['Retry-After' => '3600']);
    }
}
