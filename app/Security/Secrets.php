<?php

declare(strict_types=1);

namespace App\Security;

/** Secrets that are handed from person to person: typed by hand or followed as a link, stored only as their hash. */
final class Secrets
{
    /** Without letters that are misread for digits; 32 of them, so five bits each. */
    private const ALPHABET = 'ABCDEFGHJKLMNPQRSTUVWXYZ23456789';

    /** Sixteen letters: 80 bits (ASVS 2.6.2 asks for 20 with a limit on tries, 112 without). */
    public static function invitation(): string
    {
        return self::letters(4, 4);
    }

    /** Ten letters, 50 bits, good once. */
    public static function recovery(): string
    {
        return self::letters(2, 5);
    }

    /** In an address, behind its #: never in a log of the server. */
    public static function link(): string
    {
        return rtrim(strtr(base64_encode(random_bytes(AccessLimits::LINK_BYTES)), '+/', '-_'), '=');
    }

    public static function linkHash(string $secret): string
    {
        return hash('sha256', $secret);
    }

    public static function hash(string $typed): string
    {
        return hash('sha256', self::plain($typed));
    }

    /** As it was meant: without blanks and dashes, in capitals. */
    private static function plain(string $typed): string
    {
        return strtoupper((string) preg_replace('/[\s-]+/', '', $typed));
    }

    /** Eight letters by which a pack is known: no secret, it stands on its label. */
    public static function packCode(): string
    {
        return str_replace('-', '', self::letters(2, 4));
    }

    private static function letters(int $groups, int $each): string
    {
        return implode(
            '-',
            array_map(
                fn(): string => implode('', array_map(fn(): string => self::ALPHABET[random_int(0, 31)], range(1, $each))),
                range(1, $groups),
            ),
        );
    }
}
