<?php

declare(strict_types=1);

namespace App\Support;

/** A sign of life of a process that answers nobody: a file it touches as long as it goes round. Works without the framework. */
final class Beat
{
    /** Seconds after which a process that should go round every second or two is not well. */
    public const LATE_S = 20;

    public static function touch(string $name): void
    {
        @touch(self::file($name));
    }

    /** @return int|null seconds since the last sign, null where there never was one */
    public static function age(string $name): ?int
    {
        clearstatcache(true, self::file($name));
        $at = @filemtime(self::file($name));

        return $at === false ? null : time() - $at;
    }

    private static function file(string $name): string
    {
        return (getenv('HEARTWOOD_HOME') ?: dirname(__DIR__, 2)) . '/var/' . (getenv('HEARTWOOD_INSTANCE') ?: 'main') . "/run/$name.beat";
    }
}
