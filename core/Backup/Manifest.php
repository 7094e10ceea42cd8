<?php

declare(strict_types=1);

namespace Heartwood\Core\Backup;

/** What a backup says of itself: its members, each with its SHA-256; and what is wrong with those that are there. */
final readonly class Manifest
{
    public const FORMAT = 'heartwood.backup';

    public const VERSION = 1;

    /** @param  array<string, array{bytes: int, sha256: string}>  $members  by path in the backup */
    private function __construct(public string $takenAt, public string $rules, public array $members) {}

    /** @param  array<string, array{bytes: int, sha256: string}>  $members */
    public static function of(string $takenAt, string $rules, array $members): self
    {
        ksort($members, SORT_STRING);

        return new self($takenAt, $rules, $members);
    }

    /** @return self|string what makes it none, and the mend */
    public static function read(string $json): self|string
    {
        $m = json_decode($json, true);
        if (!is_array($m) || ($m['format'] ?? null) !== self::FORMAT) {
            return 'this is no backup of Heartwood: it has no manifest that names it';
        }
        if (($m['version'] ?? null) !== self::VERSION) {
            return sprintf('this backup is of version %s, and version %d is known here', json_encode($m['version'] ?? null), self::VERSION);
        }
        if (!is_string($m['taken_at'] ?? null) || !is_string($m['rules'] ?? null) || !is_array($m['members'] ?? null)) {
            return 'its manifest lacks when it was taken, or what is in it';
        }
        $members = [];
        /** @var array<array-key, mixed> $all */
        $all = $m['members'];
        foreach ($all as $path => $of) {
            $sha = is_array($of) && is_string($of['sha256'] ?? null) ? $of['sha256'] : '';
            if (
                !is_array($of) ||
                !is_int($of['bytes'] ?? null) ||
                preg_match('/^[0-9a-f]{64}$/D', $sha) !== 1 ||
                preg_match('#^(?!/)(?!.*(^|/)\.\.(/|$)).+$#D', (string) $path) !== 1
            ) {
                return sprintf('its manifest says of "%s" what cannot be', $path);
            }
            $members[(string) $path] = ['bytes' => $of['bytes'], 'sha256' => $sha];
        }

        return self::of($m['taken_at'], $m['rules'], $members);
    }

    /**
     * @param  array<string, array{bytes: int, sha256: string}>  $found  by path, as they are there
     * @return list<string> what is missing, altered, or not of it
     */
    public function problems(array $found): array
    {
        $out = [];
        foreach ($this->members as $path => $of) {
            $is = $found[$path] ?? null;
            if ($is === null) {
                $out[] = "$path is missing";
            } elseif ($is['sha256'] !== $of['sha256']) {
                $out[] = "$path was altered, or did not come whole";
            }
        }
        foreach (array_keys(array_diff_key($found, $this->members)) as $path) {
            $out[] = "$path is not of this backup";
        }
        if (!isset($this->members['database.sql.gz'])) {
            $out[] = 'it has no database';
        }

        return $out;
    }

    public function toJson(): string
    {
        return json_encode(
            [
                'format' => self::FORMAT,
                'version' => self::VERSION,
                'taken_at' => $this->takenAt,
                'rules' => $this->rules,
                'members' => (object) $this->members,
            ],
            JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_THROW_ON_ERROR,
        ) . "\n";
    }
}
