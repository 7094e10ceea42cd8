<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Record\Places;

/** Findings as a person says them: the same of several groups is one statement, "Groups 5 to 8 are dead". Each finding stays what it is. */
final class Statements
{
    /** From this probability up a finding is said together with its like; one less sure is said by itself. */
    public const TOGETHER = VerdictLimits::TOGETHER;

    /**
     * @param  list<array{code: string, title: string, where: array<string, int|string>|null, probability: float}>  $findings  as a
     *   verdict has them
     * @return list<array{title: string, findings: list<int>}> in the order of their first finding; which findings each says, by index
     */
    public static function of(array $findings): array
    {
        $out = [];
        foreach ($findings as $i => $f) {
            $alike = isset($f['where']['group']) && $f['probability'] >= self::TOGETHER && Faults::of($f['code'])->words()->many !== '';
            $out[$alike ? $f['code'] : "$i"][] = $i;
        }

        return array_map(fn(array $at): array => ['title' => self::title($findings, $at), 'findings' => $at], array_values($out));
    }

    /** @param  list<array{code: string, title: string, where: array<string, int|string>|null, probability: float}>  $findings */
    public static function first(array $findings): ?string
    {
        return self::of($findings)[0]['title'] ?? null;
    }

    /**
     * @param  list<array{code: string, title: string, where: array<string, int|string>|null}>  $findings
     * @param  non-empty-list<int>  $at
     */
    private static function title(array $findings, array $at): string
    {
        $first = $findings[$at[0]];

        return count($at) === 1
            ? $first['title']
            : sprintf(
                Faults::of($first['code'])->words()->many,
                Places::numbers(array_map(fn(int $i): int => (int) ($findings[$i]['where']['group'] ?? 0), $at)),
            );
    }
}
