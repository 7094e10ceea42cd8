<?php

declare(strict_types=1);

namespace App\Actions;

use App\Instruments\Desk;
use App\Instruments\Identity;
use App\Models\Instrument;
use App\Models\Job;
use Illuminate\Database\UniqueConstraintViolationException;
use Illuminate\Support\Facades\DB;

/**
 * One instrument, one run, whatever it is called and whoever's it is: a row by what the instrument is, held from the start
 * of a run to the end of the watch after it. The runner holds a lock of its own beside it.
 *
 * @phpstan-import-type DeskAt from Desk
 */
final class Claims
{
    /**
     * @param  list<Instrument>  $instruments
     * @return list<string> the keys that are held now
     *
     * @throws Refused another run has one of them; not said whose
     */
    public static function take(string $run, array $instruments): array
    {
        $keys = array_values(array_unique(array_map(self::key(...), $instruments)));
        // In one order for everybody: two who start at once wait for one another and do not embrace.
        sort($keys);
        foreach ($keys as $key) {
            try {
                DB::table('instrument_claims')->insert(['instrument' => substr($key, 0, 190), 'run_id' => $run, 'at' => now()]);
            } catch (UniqueConstraintViolationException) {
                throw new Refused('in-use', 'One of these instruments is in use: wait until it is free, or take another.');
            }
        }
        // Whoever looks at one of them by leave is sent away: only once the claim stands can no new leave be had.
        DB::afterCommit(function () use ($keys): void {
            foreach ($keys as $key) {
                Desk::take($key);
            }
        });

        return $keys;
    }

    /**
     * One pack, one run, the watch after it included.
     *
     * @throws Refused it has one
     */
    public static function pack(string $run, Job $job): void
    {
        try {
            DB::table('instrument_claims')->insert(['instrument' => "pack:{$job->id}", 'run_id' => $run, 'at' => now()]);
        } catch (UniqueConstraintViolationException) {
            throw new Refused('in-use', 'This pack has a run already, or is watched after one: end it first, or take the watch over.');
        }
    }

    /** @return DeskAt how the desk reaches it */
    public static function atDesk(Instrument $i): array
    {
        return [
            'id' => $i->id,
            'kind' => $i->kind,
            'host' => $i->address(),
            'port' => $i->port,
            'timeout_s' => $i->timeout_s,
            'channel' => $i->channel,
            'style' => $i->style,
            'key' => self::key($i),
        ];
    }

    public static function isTaken(Instrument $i): bool
    {
        return DB::table('instrument_claims')->where('instrument', substr(self::key($i), 0, 190))->exists();
    }

    public static function release(string $run): void
    {
        DB::table('instrument_claims')->where('run_id', $run)->delete();
    }

    public static function key(Instrument $i): string
    {
        return Identity::key($i->identity, $i->host, $i->port);
    }
}
