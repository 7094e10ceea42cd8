<?php

declare(strict_types=1);

namespace App\Instruments;

/**
 * Instruments that no run has are read here, in a process of their own beside the runner, and never by a page: a page asks,
 * and is shown what was seen last. An instrument that drips or is silent keeps nobody waiting but itself.
 *
 * @phpstan-type DeskAt array{id: int, kind: string, host: string, port: int, timeout_s: float, channel: int|null, style: string,
 *     key: string}
 */
final readonly class Desk
{
    /** What was seen longer ago than this is not shown as what is. */
    private const FRESH_S = 1.0;

    /** A page waits this long at the most, and only for the first look. */
    private const WAIT_S = 1.5;

    /** Whoever asks again and again is told so only after nothing has been heard for this long: a busy machine is no silent meter. */
    private const SILENT_S = 5.0;

    /** Between two readings: as quick as a bench meter makes them. */
    private const READS_US = 110_000;

    /** How often it is looked whether pages still ask, and for what. */
    private const ASKS_S = 0.4;

    /** How often pages are shown what was read. */
    private const SHOWS_S = 0.2;

    /** So much of what a meter has shown is held for screens. */
    private const SERIES_S = 3.0;

    /** What nobody has wanted for this long is thrown away; longer than any leave to look lasts. */
    private const GONE_S = 120.0;

    /** Nobody has asked for this long: the instrument is let go. */
    private const IDLE_S = 3.0;

    public static function folder(): string
    {
        $folder = RunFolder::root() . '-desk';
        is_dir($folder) || @mkdir($folder, 0770, true);

        return $folder;
    }

    /**
     * What an instrument shows now.
     *
     * @param  DeskAt  $at
     * @param  'all'|'volts'  $what
     * @return array<string, mixed>
     *
     * @throws InstrumentFault it is silent, in use, or nobody reads it
     */
    public static function look(array $at, string $what): array
    {
        return (array) self::seen($at, $what)['shows'];
    }

    /**
     * What a meter has shown in the last seconds, oldest first: volts, null where it had nothing, and when, seconds of the epoch. A
     * screen that asks twice a second misses nothing of what the desk saw in between.
     *
     * @param  DeskAt  $at
     * @return list<array{t: float, v: float|null}>
     *
     * @throws InstrumentFault it is silent, in use, or nobody reads it
     */
    public static function volts(array $at): array
    {
        return array_map(
            fn(array $s): array => ['t' => (float) $s[0], 'v' => isset($s[1]) ? (float) $s[1] : null],
            array_values((array) (self::seen($at, 'volts', waits: false)['series'] ?? [])),
        );
    }

    /** No page is shown it any more by leave that it was given before now: a run has it, or the shop no longer does. */
    public static function take(string $key): void
    {
        self::replace(sha1($key) . '.taken', ['at' => microtime(true)]);
    }

    /** When it was taken last, seconds of the epoch; 0 where that is long ago. */
    public static function takenAt(string $key): float
    {
        $taken = json_decode((string) @file_get_contents(self::folder() . '/' . sha1($key) . '.taken'), true);

        return is_array($taken) ? (float) ($taken['at'] ?? 0.0) : 0.0;
    }

    /**
     * @param  array<string, mixed>  $at
     * @param  'all'|'volts'  $what
     * @param  bool  $waits  for the first look; whoever asks again and again does not, and has nothing until it is there
     * @return array<string, mixed>
     */
    private static function seen(array $at, string $what, bool $waits = true): array
    {
        $file = self::folder() . "/{$at['id']}.json";
        $now = microtime(true);
        // Since when it has been asked for without a break.
        $ask = json_decode((string) @file_get_contents(self::folder() . "/{$at['id']}.ask"), true);
        $goes = is_array($ask) && $now - (float) ($ask['at'] ?? 0.0) < self::IDLE_S && ($ask['what'] ?? '') === $what;
        $since = $goes ? (float) $ask['since'] : $now;
        self::replace("{$at['id']}.ask", $at + ['what' => $what, 'since' => $since, 'at' => $now]);
        for (; ; usleep(25_000)) {
            $state = json_decode((string) @file_get_contents($file), true);
            $heard = is_array($state) && ($state['what'] ?? '') === $what ? (float) $state['wall'] : 0.0;
            if (is_array($state) && microtime(true) - $heard < self::FRESH_S) {
                return is_string($state['fault'] ?? null) ? throw new InstrumentFault($state['fault']) : $state;
            }
            if (microtime(true) > ($waits ? $now + self::WAIT_S : max($since, $heard) + self::SILENT_S)) {
                throw new InstrumentFault('It does not answer: is it on, and on this network?');
            }
            if (!$waits) {
                return [];
            }
        }
    }

    /** @return list<string> instruments that somebody asks for now */
    public static function asked(): array
    {
        $out = [];
        foreach (glob(self::folder() . '/*.ask') ?: [] as $file) {
            clearstatcache(true, $file);
            $age = microtime(true) - (float) @filemtime($file);
            if ($age < self::IDLE_S) {
                $out[] = basename($file, '.ask');
            } elseif ($age > self::GONE_S) {
                @unlink($file);
            }
        }
        foreach (glob(self::folder() . '/*.taken') ?: [] as $file) {
            clearstatcache(true, $file);
            microtime(true) - (float) @filemtime($file) > self::GONE_S && @unlink($file);
        }

        return $out;
    }

    /**
     * Reads one instrument for as long as somebody asks.
     *
     * @param  \Closure(): bool  $stopping
     */
    public static function serve(string $id, \Closure $stopping): void
    {
        $file = self::folder() . '/' . basename($id) . '.ask';
        $locks = new Locks();
        $series = [];
        $at = [];
        [$asked, $wrote] = [0.0, 0.0];
        while (!$stopping()) {
            // What pages want, and what they are shown, passes by way of the disk: less often than the instrument is read.
            if (microtime(true) - $asked > self::ASKS_S) {
                clearstatcache(true, $file);
                $at = (array) json_decode((string) @file_get_contents($file), true);
                $asked = microtime(true);
                if (!isset($at['key']) || $asked - (float) @filemtime($file) > self::IDLE_S) {
                    break;
                }
            }
            $state = ['what' => $at['what'] ?? 'all', 'shows' => null, 'fault' => null];
            try {
                if (!$locks->take([(string) $at['key']])) {
                    throw new InstrumentFault('It is in use.');
                }
                $state['shows'] = self::read($at);
                $now = microtime(true);
                $series[] = [round($now, 3), $state['shows']['volts'] ?? null];
                $series = array_values(array_filter($series, fn(array $s): bool => $s[0] > $now - self::SERIES_S));
                $state += $state['what'] === 'volts' ? ['series' => $series] : [];
            } catch (InstrumentFault $e) {
                $state['fault'] = $e->getMessage();
                $locks->release();
                usleep(200_000);
            }
            if ($state['fault'] !== null || microtime(true) - $wrote > self::SHOWS_S) {
                $wrote = microtime(true);
                self::replace(basename($id) . '.json', $state + ['wall' => $wrote]);
            }
            usleep(self::READS_US);
        }
        Lines::closeAll();
        $locks->release();
    }

    /**
     * @param  array<string, mixed>  $at
     * @return array<string, mixed>
     */
    private static function read(array $at): array
    {
        $where = [
            (string) $at['host'],
            (int) $at['port'],
            (float) $at['timeout_s'],
            isset($at['channel']) ? (int) $at['channel'] : null,
            (string) $at['style'],
        ];

        return match (true) {
            $at['kind'] === 'meter' && $at['what'] === 'volts' => ['volts' => (new Meter(...$where))->volts()],
            $at['kind'] === 'meter' => [
                'volts' => ($m = new Meter(...$where))->volts(),
                'ohms' => self::perhaps($m->ohms(...)),
                'celsius' => self::perhaps($m->celsius(...)),
            ],
            $at['kind'] === 'supply' => [
                'volts' => self::shown(($s = new Supply(...$where))->volts()),
                'amps' => self::shown($s->amps()),
                'on' => $s->isOn(),
            ],
            $at['kind'] === 'load' => ['volts' => ($l = new LoadBank(...$where))->volts(), 'amps' => $l->amps(), 'on' => $l->isOn()],
            default => ['says' => BoardLine::report(Lines::to($where[0], $where[1], $where[2]))],
        };
    }

    /** @param  \Closure(): ?float  $ask  what not every meter can */
    private static function perhaps(\Closure $ask): ?float
    {
        try {
            return $ask();
        } catch (InstrumentFault) {
            return null;
        }
    }

    private static function shown(?float $x): ?float
    {
        return $x === Answer::OVERLOAD ? null : $x;
    }

    /** @param  array<string, mixed>  $data */
    private static function replace(string $name, array $data): void
    {
        $temporary = self::folder() . "/$name." . getmypid();
        file_put_contents($temporary, (string) json_encode($data));
        rename($temporary, self::folder() . "/$name");
    }
}
