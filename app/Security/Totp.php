<?php

declare(strict_types=1);

namespace App\Security;

/** Time-based one-time passwords: RFC 6238 over RFC 4226, HMAC-SHA-1, six digits. */
final class Totp
{
    private const ALPHABET = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567';

    private const DIGITS = 6;

    /** Bytes of a new secret (RFC 4226, R6: 160 bits). */
    private const SECRET_BYTES = 20;

    /** A new secret in the base32 of RFC 4648, as authenticators take it. */
    public static function secret(): string
    {
        return self::encode(random_bytes(self::SECRET_BYTES));
    }

    /**
     * @param  string  $key  raw bytes
     * @param  int  $step  number of the time step since 1970
     */
    public static function at(string $key, int $step, int $digits = self::DIGITS, string $hash = 'sha1'): string
    {
        $mac = hash_hmac($hash, pack('J', $step), $key, true);
        $offset = ord($mac[strlen($mac) - 1]) & 0x0f;
        $number = ((array) unpack('N', substr($mac, $offset, 4)))[1] & 0x7fffffff;

        return str_pad((string) ($number % 10 ** $digits), $digits, '0', STR_PAD_LEFT);
    }

    /**
     * The step whose code this is, or null. A code is good once: steps up to $used are not looked at.
     *
     * @param  int  $now  seconds since 1970
     */
    public static function step(string $secret, string $code, int $now, int $used): ?int
    {
        $key = self::decode($secret);
        $middle = intdiv($now, AccessLimits::TOTP_STEP_S);
        $found = null;
        for ($step = $middle - AccessLimits::TOTP_DRIFT_STEPS; $step <= $middle + AccessLimits::TOTP_DRIFT_STEPS; $step++) {
            if (hash_equals(self::at($key, $step), $code) && $step > $used) {
                $found = $step;
            }
        }

        return $found;
    }

    /** What an authenticator reads from a QR code (the `otpauth` form). */
    public static function uri(string $secret, string $account, string $issuer): string
    {
        return 'otpauth://totp/' .
            rawurlencode($issuer) .
            ':' .
            rawurlencode($account) .
            '?' .
            http_build_query(
                [
                    'secret' => $secret,
                    'issuer' => $issuer,
                    'algorithm' => 'SHA1',
                    'digits' => self::DIGITS,
                    'period' => AccessLimits::TOTP_STEP_S,
                ],
                '',
                '&',
                PHP_QUERY_RFC3986,
            );
    }

    public static function encode(string $bytes): string
    {
        $out = '';
        foreach (str_split(implode('', array_map(fn(string $b): string => sprintf('%08b', ord($b)), str_split($bytes))), 5) as $bits) {
            $out .= self::ALPHABET[(int) bindec(str_pad($bits, 5, '0'))];
        }

        return $out;
    }

    public static function decode(string $text): string
    {
        $bits = '';
        foreach (str_split(strtoupper(rtrim($text, '='))) as $c) {
            $at = strpos(self::ALPHABET, $c);
            if ($at === false) {
                throw new \InvalidArgumentException('not base32');
            }
            $bits .= sprintf('%05b', $at);
        }

        return implode('', array_map(fn(string $b): string => strlen($b) === 8 ? chr((int) bindec($b)) : '', str_split($bits, 8)));
    }
}
