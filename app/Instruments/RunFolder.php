<?php

declare(strict_types=1);

namespace App\Instruments;

/**
 * The files of one supervised run, which is all that the runner needs: `plan.json` as started, `say.jsonl` what people
 * said, `journal.jsonl` what happened (appended), `state.json` what screens see and `curve.json` the course so far (both replaced
 * whole), and `seen`, touched by a screen that watches. Nothing here needs a database.
 */
final readonly class RunFolder
{
    /** Bytes of the journal that one look takes in: a screen that was away for long catches up by several. */
    private const LOOK = 262_144;

    public function __construct(public string $path) {}

    public static function root(): string
    {
        // Tests that move a runner by hand keep their runs away from the supervised one.
        $own = getenv('HEARTWOOD_RUNS');
        $instance = getenv('HEARTWOOD_INSTANCE') ?: 'main';

        return is_string($own) && $own !== '' ? $own : (getenv('HEARTWOOD_HOME') ?: dirname(__DIR__, 2)) . "/var/$instance/runs";
    }

    public static function of(string $id): self
    {
        if (!preg_match('/^[0-9a-f-]{36}$/', $id)) {
            throw new \InvalidArgumentException('a run is named by a UUID');
        }

        return new self(self::root() . "/$id");
    }

    /** @return list<self> the runs that are not closed */
    public static function open(): array
    {
        $out = [];
        foreach (glob(self::root() . '/*/plan.json') ?: [] as $file) {
            if (!is_file(dirname($file) . '/closed')) {
                $out[] = new self(dirname($file));
            }
        }

        return $out;
    }

    public function id(): string
    {
        return basename($this->path);
    }

    /** @param  array<string, mixed>  $plan */
    public function start(array $plan): void
    {
        if (!is_dir($this->path)) {
            mkdir($this->path, 0770, true);
        }
        $this->touch();
        $this->replace('plan.json', $plan);
    }

    /** @return array<string, mixed> */
    public function plan(): array
    {
        return $this->read('plan.json');
    }

    /** @return array<string, mixed> empty before the runner has looked at it */
    public function state(): array
    {
        return is_file("$this->path/state.json") ? $this->read('state.json') : [];
    }

    /** @param  array<string, mixed>  $state */
    public function show(array $state): void
    {
        $this->replace('state.json', $state);
    }

    /** @param  array<string, mixed>  $entry */
    public function say(array $entry): void
    {
        $this->append('say.jsonl', $entry, false);
    }

    /**
     * What people said is on the disk before it is acted on. Samples are not waited for: a disk that stalls for a second must
     * not stall a run, and a run that has lost its last samples proves anew.
     *
     * @param  array<string, mixed>  $entry
     */
    public function note(array $entry): void
    {
        $this->append('journal.jsonl', $entry, ($entry['is'] ?? '') === 'said');
    }

    /** @return list<array<string, mixed>> lines from a number on */
    public function said(int $from): array
    {
        return array_slice(iterator_to_array($this->lines('say.jsonl'), false), $from);
    }

    /** @return iterable<array<string, mixed>> one after another, so that a long run takes up no more memory than a short one */
    public function journal(): iterable
    {
        return $this->lines('journal.jsonl');
    }

    /**
     * What came into the journal after a place in it. It costs what is new, however much there is before it.
     *
     * @param  int  $from  bytes, as an earlier look gave them; one that lies behind the end gives nothing
     * @return array{0: list<array<string, mixed>>, 1: int} entries, and the place to go on from
     */
    public function since(int $from): array
    {
        $file = @fopen("$this->path/journal.jsonl", 'r');
        if ($file === false) {
            return [[], 0];
        }
        try {
            $size = (int) (fstat($file)['size'] ?? 0);
            if ($from < 0 || $from >= $size) {
                return [[], $size];
            }
            fseek($file, $from);
            $text = (string) fread($file, max(1, min(self::LOOK, $size - $from)));
            // A line that is still being written is left to the next look.
            $whole = strrpos($text, "\n");
            if ($whole === false) {
                return [[], $from];
            }
            $entries = array_map(fn(string $line): mixed => json_decode($line, true), explode("\n", substr($text, 0, $whole)));

            return [array_values(array_filter($entries, is_array(...))), $from + $whole + 1];
        } finally {
            fclose($file);
        }
    }

    /** Bytes that the journal has. */
    public function length(): int
    {
        clearstatcache(true, "$this->path/journal.jsonl");

        return (int) @filesize("$this->path/journal.jsonl");
    }

    /** @return array{upto: int, points: list<array<string, mixed>>} the course up to a place in the journal */
    public function curve(): array
    {
        $curve = is_file("$this->path/curve.json") ? $this->read('curve.json') : [];

        return [
            'upto' => (int) ($curve['upto'] ?? 0),
            'points' => array_values(array_filter((array) ($curve['points'] ?? []), is_array(...))),
        ];
    }

    /** @param  list<array<string, mixed>>  $points */
    public function draw(array $points, int $upto): void
    {
        $this->replace('curve.json', ['upto' => $upto, 'points' => $points]);
    }

    public function touch(): void
    {
        touch("$this->path/seen");
    }

    /** Seconds since a screen has asked. */
    public function unseenFor(): float
    {
        clearstatcache(true, "$this->path/seen");

        return max(0.0, microtime(true) - (float) @filemtime("$this->path/seen"));
    }

    public function close(): void
    {
        touch("$this->path/closed");
    }

    public function isClosed(): bool
    {
        return is_file("$this->path/closed");
    }

    /** @return array<string, mixed> */
    private function read(string $name): array
    {
        $data = json_decode((string) @file_get_contents("$this->path/$name"), true);

        return is_array($data) ? $data : [];
    }

    /** @param  array<string, mixed>  $data */
    private function replace(string $name, array $data): void
    {
        $temporary = sprintf('%s/%s.%d', $this->path, $name, getmypid());
        file_put_contents($temporary, (string) json_encode($data));
        rename($temporary, "$this->path/$name");
    }

    /** @param  array<string, mixed>  $entry */
    private function append(string $name, array $entry, bool $sync): void
    {
        $file = fopen("$this->path/$name", 'a+');
        if ($file === false) {
            throw new \RuntimeException("cannot write $this->path/$name");
        }
        // A line that a crash has cut short must not take the next one with it.
        $cut = fseek($file, -1, SEEK_END) === 0 && fread($file, 1) !== "\n";
        fwrite($file, ($cut ? "\n" : '') . json_encode($entry) . "\n");
        if ($sync) {
            fflush($file);
            fdatasync($file);
        }
        fclose($file);
    }

    /** @return \Generator<int, array<string, mixed>> a line cut short by a crash is left out */
    private function lines(string $name): \Generator
    {
        $file = @fopen("$this->path/$name", 'r');
        if ($file === false) {
            return;
        }
        try {
            while (($line = fgets($file)) !== false) {
                $entry = json_decode($line, true);
                if (is_array($entry)) {
                    yield $entry;
                }
            }
        } finally {
            fclose($file);
        }
    }
}
