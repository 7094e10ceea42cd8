<?php

declare(strict_types=1);

namespace Heartwood\Core\Batch;

use Heartwood\Core\Reading\TypedValue;
use Heartwood\Core\Safety\Look;

/**
 * The packs of a lot as they are typed or scanned, a line each: what is written on it, the volts at its output where they were read, and
 * what was seen of it in words. "RS-01 .. RS-16" is sixteen lines. What cannot be read is named by its line.
 */
final readonly class ArrivalList
{
    /** Packs of one lot, at most. */
    public const MOST = 200;

    private const LONGEST = 80;

    /** No pack of a lot has so many volts. */
    private const MOST_V = 1000.0;

    /** Beginnings of words by which a sign is written down. */
    private const SIGNS = [
        'swollen' => ['swollen', 'swell', 'bulg', 'puff'],
        'leaking' => ['leak'],
        'venting' => ['vent', 'hiss'],
        'smell' => ['smell', 'reek'],
        'punctured' => ['punctur', 'pierced'],
        'warm_at_rest' => ['warm', 'hot'],
        'salt_water' => ['salt'],
        'wet' => ['wet', 'flood', 'damp'],
        'crushed' => ['crush', 'dent'],
        'burnt' => ['burn', 'scorch'],
    ];

    /** Words before which a sign is not one. */
    private const NOT = ['not', 'no', 'never'];

    /**
     * @param  list<array{line: int, serial: string, volts: float|null, signs: list<string>, note: string}>  $rows  signs: keys of the look
     * @param  list<string>  $wrong
     */
    private function __construct(public array $rows, public array $wrong) {}

    public static function of(string $text): self
    {
        $rows = $wrong = $seen = [];
        foreach (preg_split('/\R/', $text) ?: [] as $i => $line) {
            $line = trim($line);
            if ($line === '' || $line[0] === '#') {
                continue;
            }
            $read = self::run($line) ?? [self::line($line)];
            foreach ($read as $row) {
                if (is_string($row)) {
                    $wrong[] = sprintf('Line %d: %s.', $i + 1, $row);

                    continue;
                }
                $name = mb_strtolower($row['serial']);
                if (isset($seen[$name])) {
                    $wrong[] = sprintf('Line %d: %s stands in line %d already.', $i + 1, $row['serial'], $seen[$name]);

                    continue;
                }
                $seen[$name] = $i + 1;
                $rows[] = ['line' => $i + 1] + $row;
            }
        }
        if ($rows === [] && $wrong === []) {
            $wrong[] = 'No pack stands there: a line for each, what is written on it first.';
        }
        if (count($rows) > self::MOST) {
            $wrong[] = sprintf('%d packs: at most %d in one lot.', count($rows), self::MOST);
        }

        return new self($rows, $wrong);
    }

    /** @return list<array{serial: string, volts: null, signs: list<string>, note: string}|string>|null null: it is no run of numbers */
    private static function run(string $line): ?array
    {
        if (preg_match('/^(.*?)(\d+)\s*\.\.+\s*(.*?)(\d+)$/D', $line, $m) !== 1 || ($m[3] !== '' && $m[3] !== $m[1])) {
            return null;
        }
        [$from, $to] = [(int) $m[2], (int) $m[4]];
        if ($to < $from || $to - $from >= self::MOST) {
            return [sprintf('from %d to %d is no run of up to %d packs', $from, $to, self::MOST)];
        }

        return array_map(
            fn(int $n): array => [
                'serial' => $m[1] . str_pad((string) $n, strlen($m[2]), '0', STR_PAD_LEFT),
                'volts' => null,
                'signs' => [],
                'note' => '',
            ],
            range($from, $to),
        );
    }

    /** @return array{serial: string, volts: float|null, signs: list<string>, note: string}|string */
    private static function line(string $line): array|string
    {
        $parts = preg_split(preg_match('/[\t;]/', $line) === 1 ? '/\s*[\t;]\s*/' : '/[\s,]+/', $line) ?: [];
        $serial = (string) array_shift($parts);
        if ($serial === '') {
            return 'nothing that is written on the pack';
        }
        if (mb_strlen($serial) > self::LONGEST) {
            return sprintf('what is written on it is longer than %d letters', self::LONGEST);
        }
        $volts = null;
        $words = [];
        foreach ($parts as $p) {
            $v = TypedValue::parse($p)?->volts;
            if ($v === null) {
                $words[] = $p;

                continue;
            }
            if ($volts !== null) {
                return "\"$p\" is a second number: one, the volts at its output";
            }
            if ($v < 0.0 || $v >= self::MOST_V) {
                return "\"$p\" is no voltage of a pack";
            }
            $volts = $v;
        }
        $note = trim(implode(' ', array_filter($words, fn(string $w): bool => $w !== '')));

        return ['serial' => $serial, 'volts' => $volts, 'signs' => self::signs($note), 'note' => $note];
    }

    /** @return list<string> */
    private static function signs(string $note): array
    {
        $out = [];
        $words = preg_split('/[^\p{L}]+/u', mb_strtolower($note)) ?: [];
        foreach ($words as $i => $w) {
            foreach (self::SIGNS as $key => $beginnings) {
                foreach ($beginnings as $b) {
                    if (str_starts_with($w, $b) && !in_array($words[$i - 1] ?? '', self::NOT, true)) {
                        $out[$key] = true;
                    }
                }
            }
        }
        // Salt is a kind of wet.
        if (isset($out[Look::SaltWater->value])) {
            $out[Look::Wet->value] = true;
        }

        return array_keys($out);
    }
}
