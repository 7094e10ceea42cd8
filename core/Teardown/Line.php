<?php

declare(strict_types=1);

namespace Heartwood\Core\Teardown;

/**
 * A step as it is typed in one line, hands in the work: `11 screws M3x8 @ lid`, `screw M3x8 @ under sealant !`,
 * `lead red @ T3 to pin 4 = 11.4`, `screws M4x12 & hex 3 ~ heads to the board`. A count first, the thing, behind @ where, behind & the
 * tool,
 * behind ~ how it lay, behind = the volts measured against B-, ! for hidden, behind # a remark.
 */
final class Line
{
    /** Things of one step, at most: more is a slip of the hand. */
    public const MOST = 500;

    /** Letters of what came off, and of where it was, at most: more belongs behind #. */
    public const MOST_LETTERS = 120;

    /** Volts of a lead against B-, at most. */
    public const MOST_V = 2000.0;

    /**
     * @return array{part: string, count: int, what: string, where: string, tool: string, lay: string, remark: string,
     *   hidden: bool, volts: float|null}
     *
     * @throws \InvalidArgumentException what is wrong with it, and what would mend it
     */
    public static function read(string $typed): array
    {
        [$rest, $remark] = self::behind($typed, '#');
        ['' => $rest, '=' => $volts, '@' => $where, '&' => $tool, '~' => $lay] = self::signs($rest);
        $hidden = str_contains($rest . $where . $tool . $lay . $volts, '!');
        [$rest, $where, $tool, $lay] = array_map(fn(string $t): string => trim(str_replace('!', ' ', $t)), [$rest, $where, $tool, $lay]);
        $volts = trim(str_replace(['!', ','], [' ', '.'], $volts));
        $count = 1;
        // Four digits and more are the name of a thing.
        if (preg_match('/^(\d{1,3})\s*(?:x|×)?\s+(.*)$/su', $rest, $m) === 1) {
            [$count, $rest] = [(int) $m[1], trim($m[2])];
        }
        if ($rest === '') {
            throw new \InvalidArgumentException('Say what came off, such as "11 screws M3x8 @ lid".');
        }
        if ($count < 1 || $count > self::MOST) {
            throw new \InvalidArgumentException(sprintf('%d of one thing? From 1 to %d.', $count, self::MOST));
        }
        if (max(array_map(mb_strlen(...), [$rest, $where, $tool, $lay])) > self::MOST_LETTERS) {
            throw new \InvalidArgumentException(
                sprintf(
                    'What came off, where, the tool and how it lay are %d letters at the most: put the rest behind #.',
                    self::MOST_LETTERS,
                ),
            );
        }
        $v = null;
        if ($volts !== '') {
            $bare = preg_replace('/\s*v$/i', '', $volts);
            if (!is_numeric($bare) || abs((float) $bare) > self::MOST_V) {
                throw new \InvalidArgumentException("\"$volts\" behind = is no voltage: type it as = 11.4");
            }
            $v = (float) $bare;
        }

        return [
            'part' => self::part($rest)->value,
            'count' => $count,
            'what' => (string) preg_replace('/\s+/', ' ', $rest),
            'where' => (string) preg_replace('/\s+/', ' ', $where),
            'tool' => (string) preg_replace('/\s+/', ' ', $tool),
            'lay' => (string) preg_replace('/\s+/', ' ', $lay),
            'remark' => trim($remark),
            'hidden' => $hidden,
            'volts' => $v,
        ];
    }

    /** Which part words mean: the last of them that is known, for "board screw" is a screw and "cell tape" a tape. */
    public static function part(string $what): Part
    {
        $found = Part::Other;
        foreach (explode(' ', Step::plain($what)) as $word) {
            foreach (Part::cases() as $part) {
                if (in_array($word, $part->words(), true)) {
                    $found = $part;
                }
            }
        }

        return $found;
    }

    /**
     * What stands before the first sign, and behind each of them; a sign that comes twice is a letter the second time. & and ~ are
     * signs at the beginning of a word only.
     *
     * @return array<string, string> by sign, under the empty one what is before all
     */
    private static function signs(string $text): array
    {
        $found = ['' => '', '=' => '', '@' => '', '&' => '', '~' => ''];
        $seen = ['' => true];
        $at = '';
        foreach (preg_split('/(?:(?<=\s)|^)([&~])|([@=])/u', $text, -1, PREG_SPLIT_DELIM_CAPTURE | PREG_SPLIT_NO_EMPTY) ?: [] as $piece) {
            if (isset($found[$piece]) && !isset($seen[$piece])) {
                $seen[($at = $piece)] = true;
            } else {
                $found[$at] .= $piece;
            }
        }

        return array_map(trim(...), $found);
    }

    /**
     * @param  non-empty-string  $sign
     * @return array{string, string} what stands before a sign, and behind its first place
     */
    private static function behind(string $text, string $sign): array
    {
        $parts = explode($sign, $text, 2);

        return [trim($parts[0]), trim($parts[1] ?? '')];
    }
}
