<?php

declare(strict_types=1);

namespace Heartwood\Core\Record;

/** One spelling for equal data: keys sorted, numbers shortest. What is hashed is what was meant. */
final class Canonical
{
    public static function json(mixed $data): string
    {
        return json_encode(self::sorted($data), JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES);
    }

    public static function hash(mixed $data): string
    {
        return 'sha256:' . hash('sha256', self::json($data));
    }

    private static function sorted(mixed $data): mixed
    {
        if (is_float($data) && $data === floor($data) && abs($data) < 1e15) {
            return (int) $data;
        }
        if (!is_array($data)) {
            return $data;
        }
        if (!array_is_list($data)) {
            ksort($data);
        }

        return array_map(self::sorted(...), $data);
    }
}
