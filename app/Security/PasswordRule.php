<?php

declare(strict_types=1);

namespace App\Security;

use App\Demo\DemoWorkshop;
use Closure;
use Illuminate\Contracts\Validation\ValidationRule;

/** A password is long enough, not one of the common ones, and not what anybody would try first. Nothing is asked of its letters. */
final class PasswordRule implements ValidationRule
{
    /** Characters of a word that make it worth looking for in a password. */
    private const WORD_MIN = 4;

    private const KEY_BYTES = 6;

    /** @param  list<string>  $own  words that belong to this person: name, e-mail, workshop */
    public function __construct(private readonly array $own = []) {}

    /** @param  Closure(string): mixed  $fail */
    public function validate(string $attribute, mixed $value, Closure $fail): void
    {
        $why = is_string($value) ? self::refuses($value, $this->own) : 'Type a password.';
        if ($why !== null) {
            $fail($why);
        }
    }

    /**
     * @param  list<string>  $own
     * @return string|null why it is refused, and the mend
     */
    public static function refuses(string $password, array $own = []): ?string
    {
        $length = mb_strlen($password);
        if ($length < AccessLimits::PASSWORD_MIN) {
            return sprintf(
                'Use %d characters or more: three or four words that do not belong together are easy to keep.',
                AccessLimits::PASSWORD_MIN,
            );
        }
        if ($length > AccessLimits::PASSWORD_MAX) {
            return sprintf('Use at most %d characters.', AccessLimits::PASSWORD_MAX);
        }
        $plain = mb_strtolower($password);
        if ($plain === DemoWorkshop::PASSWORD) {
            return 'This is the password of the demo, which everybody knows: choose another.';
        }
        foreach (self::bases($plain) as $base) {
            if (self::isCommon($base)) {
                return 'This is one of the passwords that are tried first: choose another.';
            }
        }
        $rest = $plain;
        foreach (['heartwood', ...self::words($own)] as $word) {
            $rest = str_replace($word, '', $rest);
        }
        if (mb_strlen($rest) < AccessLimits::PASSWORD_MIN - self::WORD_MIN) {
            return 'This is mostly your own name or the workshop\'s: choose something nobody would guess.';
        }

        return self::isRun($plain) ? 'This is one letter, or one run of letters, again and again: choose another.' : null;
    }

    /**
     * The word itself, without what is hung on its ends, and what it is a repeat of.
     *
     * @return list<string>
     */
    private static function bases(string $plain): array
    {
        $bare = (string) preg_replace('/^[^a-z]+|[^a-z]+$/u', '', $plain);
        $once = (string) preg_replace('/^(.+?)\1+$/su', '$1', $plain);

        return array_values(
            array_unique(
                array_filter(
                    [$plain, $bare, $once, (string) preg_replace('/^(.+?)\1+$/su', '$1', $bare)],
                    fn(string $b): bool => $b !== '',
                ),
            ),
        );
    }

    private static function isRun(string $plain): bool
    {
        $characters = mb_str_split($plain);
        $steps = [];
        foreach (array_slice($characters, 1) as $i => $c) {
            $steps[] = mb_ord($c) - mb_ord($characters[$i]);
        }

        // At most two different steps, each small: "abcdef...", "121212...", "9876543210987".
        return count(array_unique($characters)) <= 3 || count(array_filter($steps, fn(int $s): bool => abs($s) > 1)) <= 1;
    }

    /**
     * @param  list<string>  $own
     * @return list<string>
     */
    private static function words(array $own): array
    {
        $words = [];
        foreach ($own as $text) {
            foreach (preg_split('/[^\p{L}\p{N}]+/u', mb_strtolower($text)) ?: [] as $word) {
                if (mb_strlen($word) >= self::WORD_MIN) {
                    $words[] = $word;
                }
            }
        }

        return $words;
    }

    /** Whether it is on the list that ships (bin/common-passwords.php wrote it). */
    private static function isCommon(string $base): bool
    {
        static $list = null;
        $list ??= (string) file_get_contents(resource_path('security/common-passwords.bin'));
        $key = substr(hash('sha256', $base, true), 0, self::KEY_BYTES);
        $low = 0;
        $high = intdiv(strlen($list), self::KEY_BYTES) - 1;
        while ($low <= $high) {
            $middle = intdiv($low + $high, 2);
            $order = strcmp(substr($list, $middle * self::KEY_BYTES, self::KEY_BYTES), $key);
            if ($order === 0) {
                return true;
            }
            $order < 0 ? ($low = $middle + 1) : ($high = $middle - 1);
        }

        return false;
    }
}
