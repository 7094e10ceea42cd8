<?php

declare(strict_types=1);

namespace App\Instruments;

/**
 * What an instrument is known by: what it says of itself with its serial number, else where it really is. Two names for
 * one address, or one instrument at two, are one instrument.
 */
final class Identity
{
    /** @param  array<string, mixed>  $identity  as `Scpi::identity()` gives it */
    public static function key(array $identity, string $host, int $port): string
    {
        $serial = trim((string) ($identity['serial'] ?? ''));

        return $serial !== '' ? 'idn:' . self::idn($identity) : 'at:' . self::address($host) . ":$port";
    }

    /** @param  array<string, mixed>  $identity */
    public static function idn(array $identity): string
    {
        return implode(
            '|',
            array_map(fn(string $k): string => strtolower(trim((string) ($identity[$k] ?? ''))), ['maker', 'model', 'serial']),
        );
    }

    /** The address behind a name; every name of this machine is one. */
    public static function address(string $host): string
    {
        $ip = filter_var($host, FILTER_VALIDATE_IP) !== false ? $host : gethostbyname($host);
        if ($ip === '::1' || str_starts_with($ip, '127.') || $ip === '0.0.0.0') {
            return '127.0.0.1';
        }

        return $ip;
    }
}
