<?php

declare(strict_types=1);

namespace Heartwood\Core\Record;

/** Several places in words, in the order of the pack: "groups 5 to 8", "groups 2, 5 and 7", "group 3, tap 4". */
final class Places
{
    /** @param  list<array<string, int|string>|null>  $where  as a record has them; null is the pack */
    public static function words(array $where): string
    {
        $kinds = [];
        foreach ($where as $w) {
            if ($w !== null && $w !== []) {
                $kinds[(string) array_key_first($w)][] = reset($w);
            }
        }
        $out = [];
        foreach ($kinds as $kind => $at) {
            $at = array_values(array_unique($at));
            $words = array_filter($at, is_int(...)) === $at ? self::numbers($at) : self::listed(array_map(strval(...), $at));
            $out[] = $kind . (count($at) > 1 ? 's' : '') . " $words";
        }

        return implode(', ', $out);
    }

    /** @param  list<int>  $numbers  in any order, of one kind of place */
    public static function of(string $kind, array $numbers): string
    {
        return self::words(array_map(fn(int $n): array => [$kind => $n], $numbers));
    }

    /**
     * @param  list<int>  $numbers  in any order, none twice
     * @return string three and more in a row as "5 to 8"
     */
    public static function numbers(array $numbers): string
    {
        sort($numbers);
        $runs = [];
        foreach ($numbers as $n) {
            $last = array_key_last($runs);
            if ($last !== null && $n === end($runs[$last]) + 1) {
                $runs[$last][] = $n;
            } else {
                $runs[] = [$n];
            }
        }
        $words = [];
        foreach ($runs as $run) {
            array_push($words, ...count($run) > 2 ? [$run[0] . ' to ' . end($run)] : array_map(strval(...), $run));
        }

        return self::listed($words);
    }

    /** @param  list<string>  $words */
    private static function listed(array $words): string
    {
        return count($words) < 2 ? implode('', $words) : implode(', ', array_slice($words, 0, -1)) . ' and ' . end($words);
    }
}
