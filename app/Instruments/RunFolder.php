<?php

declare(strict_types=1);

namespace App\Instruments;

/**
 * The files of one supervised run, which is all that the runner needs: `plan.json` as started, `say.jsonl` what people
 * said, `journal.jsonl` what happened (appended), `state.json` what screens see (replaced whole), and
 * `seen`, touched by a screen that watches. Nothing here needs a database.
 */
final readonly class RunFolder
{
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
        return array_slice($this->lines('say.jsonl'), $from);
    }

    /** @return list<array<string, mixed>> */
    public function journal(): array
    {
        return $this->lines('journal.jsonl');
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
        $file = fopen("$this->path/$name", 'a');
        if ($file === false) {
            throw new \RuntimeException("cannot write $this->path/$name");
        }
        fwrite($file, json_encode($entry) . "\n");
        if ($sync) {
            fflush($file);
            fdatasync($file);
        }
        fclose($file);
    }

    /** @return list<array<string, mixed>> a line cut short by a crash is left out */
    private function lines(string $name): array
    {
        $out = [];
        foreach (@file("$this->path/$name", FILE_IGNORE_NEW_LINES | FILE_SKIP_EMPTY_LINES) ?: [] as $line) {
            $entry = json_decode($line, true);
            if (is_array($entry)) {
                $out[] = $entry;
            }
        }

        return $out;
    }
}
