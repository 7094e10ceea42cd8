<?php

declare(strict_types=1);

namespace App\Support;

use Carbon\CarbonImmutable;
use Heartwood\Core\Backup\Retention;

/** What bin/backup said last: the last good one, and why a later one failed. Read from beside the backups, for the owner. */
final class Backups
{
    public static function folder(): string
    {
        return dirname(storage_path()) . '/backups';
    }

    /** @return array{good: array{at: string, words: string}|null, failed: array{at: string, words: string}|null, old: bool} */
    public static function said(): array
    {
        $good = self::read('good');
        $failed = self::read('failed');

        return [
            'good' => $good,
            // A failure that a good one has followed is over.
            'failed' => $failed !== null && ($good === null || $failed['at'] > $good['at']) ? $failed : null,
            'old' => $good === null || Retention::isOld(CarbonImmutable::parse($good['at']), CarbonImmutable::now()),
        ];
    }

    /** @return array{at: string, words: string}|null */
    private static function read(string $name): ?array
    {
        $m = json_decode((string) @file_get_contents(self::folder() . "/$name.json"), true);

        return is_array($m) && isset($m['at'], $m['words']) ? ['at' => (string) $m['at'], 'words' => (string) $m['words']] : null;
    }
}
