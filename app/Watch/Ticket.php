<?php

declare(strict_types=1);

namespace App\Watch;

use App\Instruments\RunFolder;

/**
 * Leave to look at one run or one meter for a short while. A screen that watches asks the same question twice a second; who asks
 * is looked up when the ticket is given, and for as long as it lasts it alone is asked for. It is sealed (XSalsa20-Poly1305 by
 * libsodium), so it says nothing to whoever holds it and cannot be made or changed by anybody else. It lets nobody write.
 */
final class Ticket
{
    /** Seconds that it lasts: for so long at the most somebody looks whose right has just been taken. */
    public const LASTS_S = 30;

    private const NONCE = SODIUM_CRYPTO_SECRETBOX_NONCEBYTES;

    /**
     * @param  'run'|'meter'  $for
     * @param  array<string, mixed>  $leave  what whoever answers has to know, as JSON can hold it
     * @param  float  $now  seconds of the epoch
     */
    public static function give(string $for, array $leave, float $now): string
    {
        $nonce = random_bytes(self::NONCE);
        $text = json_encode(['for' => $for, 'at' => $now] + $leave, JSON_THROW_ON_ERROR | JSON_PRESERVE_ZERO_FRACTION);

        return sodium_bin2base64($nonce . sodium_crypto_secretbox($text, $nonce, self::key()), SODIUM_BASE64_VARIANT_URLSAFE_NO_PADDING);
    }

    /**
     * @param  'run'|'meter'  $for
     * @return array<string, mixed>|null  the leave that was given; null where it is none of ours, over, or for something else
     */
    public static function read(string $ticket, string $for, float $now): ?array
    {
        try {
            $sealed = sodium_base642bin($ticket, SODIUM_BASE64_VARIANT_URLSAFE_NO_PADDING);
        } catch (\SodiumException) {
            return null;
        }
        if (strlen($sealed) <= self::NONCE + SODIUM_CRYPTO_SECRETBOX_MACBYTES) {
            return null;
        }
        $text = sodium_crypto_secretbox_open(substr($sealed, self::NONCE), substr($sealed, 0, self::NONCE), self::key());
        $leave = $text === false ? null : json_decode($text, true);
        if (!is_array($leave) || ($leave['for'] ?? null) !== $for) {
            return null;
        }
        $age = $now - (float) $leave['at'];

        // A clock that was set back makes none last longer.
        return $age >= -self::LASTS_S && $age <= self::LASTS_S ? $leave : null;
    }

    /** Of this instance, made when it is first wanted; without it screens ask for new tickets, and that is all. */
    private static function key(): string
    {
        $file = RunFolder::root() . '-watch.key';
        $key = (string) @file_get_contents($file);
        if (strlen($key) !== SODIUM_CRYPTO_SECRETBOX_KEYBYTES) {
            $own = $file . '.' . bin2hex(random_bytes(6));
            $mask = umask(0177);
            file_put_contents($own, random_bytes(SODIUM_CRYPTO_SECRETBOX_KEYBYTES));
            umask($mask);
            // One that is not whole is of no use; of two that make it at once the first is taken by both.
            file_exists($file) && @unlink($file);
            @link($own, $file);
            @unlink($own);
            $key = (string) file_get_contents($file);
        }

        return $key;
    }
}
