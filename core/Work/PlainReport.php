<?php

declare(strict_types=1);

namespace Heartwood\Core\Work;

use Heartwood\Core\Diagnosis\Statements;
use Heartwood\Core\Fault\Faults;

/**
 * What the owner of a pack is told first: found, done, proved, to be watched, in plain sentences; every number stands behind it. Who
 * says a thing is told apart: measured here, reported by the board, said by the owner.
 */
final class PlainReport
{
    /** Surer than this, and it is told to the owner as found. */
    private const TOLD = 0.5;

    /** Sentences of what was found, at most: the rest stands behind. */
    private const MOST = 4;

    private const WHO = [
        'measured' => 'measured here',
        'derived' => 'worked out from what was measured',
        'reported' => 'reported, not measured',
        'assumed' => 'taken for granted',
        'predicted' => 'expected',
    ];

    /**
     * @param  list<array{code: string, title: string, where: array<string, int|string>|null, probability: float,
     *   evidence: list<array{basis: string}>}>|null  $findings  as a
     *   verdict has them; null: none was given
     * @param  list<array{state: string, title: string, skipped: string}>  $steps
     * @param  list<array{title: string, status: string}>  $checks
     * @param  list<string>  $watched
     * @param  list<string>  $again  what is looked at again, and when
     * @param  list<array{group: int, every_days: int}>  $topUps  of groups that stay in service though they leak
     * @param  string|null  $promise  of the work; null where nothing is given back
     * @return list<array{title: string, lines: list<string>}> without those that have nothing to say
     */
    public static function of(
        string $complaint,
        ?array $findings,
        ?string $decided,
        array $steps,
        array $checks,
        array $watched,
        array $again,
        array $topUps = [],
        ?string $promise = null,
    ): array {
        $parts = [
            ['title' => 'What you told us', 'lines' => $complaint === '' ? [] : [$complaint]],
            ['title' => 'What we found', 'lines' => $findings === null ? ['Nothing was judged yet.'] : self::found($findings)],
            ['title' => self::begun($steps) ? 'What we did' : 'What is to be done', 'lines' => self::done($decided, $steps)],
            ['title' => 'How we know that it is right', 'lines' => self::proved($checks)],
            ['title' => 'What to watch', 'lines' => [...$watched, ...array_map(self::topUp(...), $topUps), ...$again]],
            ['title' => 'What we promise', 'lines' => $promise === null ? [] : [$promise]],
        ];

        return array_values(array_filter($parts, fn(array $p): bool => $p['lines'] !== []));
    }

    /**
     * @param  list<array{code: string, title: string, where: array<string, int|string>|null, probability: float,
     *   evidence: list<array{basis: string}>}>  $findings
     * @return list<string> in plain words, each with who says so
     */
    public static function found(array $findings): array
    {
        $told = array_filter($findings, fn(array $f): bool => $f['probability'] >= self::TOLD);
        if ($told === []) {
            return ['Nothing wrong was found in what was measured.'];
        }
        $lines = [];
        foreach (Statements::of(array_values($told)) as $s) {
            $f = array_values($told)[$s['findings'][0]];
            $plain = Faults::of($f['code'])->words()->plain;
            $who = self::WHO[$f['evidence'][0]['basis'] ?? ''] ?? null;
            // Several parts with one fault are one sentence to the owner.
            $lines[$plain] ??= "{$s['title']}. $plain" . ($who === null ? '' : " ($who)");
        }

        return array_slice(array_values($lines), 0, self::MOST);
    }

    /** @param  array{group: int, every_days: int}  $t */
    private static function topUp(array $t): string
    {
        return sprintf(
            'Group %d loses charge and stays in service: charge it full at least every %d days, and stay with it while it charges.',
            $t['group'],
            $t['every_days'],
        );
    }

    /** @param  list<array{state: string, title: string, skipped: string}>  $steps */
    private static function begun(array $steps): bool
    {
        return $steps === [] || array_filter($steps, fn(array $s): bool => $s['state'] !== 'open') !== [];
    }

    /**
     * @param  list<array{state: string, title: string, skipped: string}>  $steps
     * @return list<string>
     */
    private static function done(?string $decided, array $steps): array
    {
        if ($decided === null) {
            return [];
        }
        $left = array_filter($steps, fn(array $s): bool => $s['state'] === 'skipped');
        $open = count(array_filter($steps, fn(array $s): bool => $s['state'] === 'open'));

        return [
            "$decided.",
            ...array_map(fn(array $s): string => "Left out: {$s['title']} ({$s['skipped']})", array_values($left)),
            ...$open === 0
                ? []
                : [sprintf('%d %s of the work %s not closed.', $open, $open === 1 ? 'step' : 'steps', $open === 1 ? 'is' : 'are')],
        ];
    }

    /**
     * @param  list<array{title: string, status: string}>  $checks
     * @return list<string>
     */
    private static function proved(array $checks): array
    {
        $lines = [];
        foreach (['passed' => 'Passed', 'failed' => 'Not passed', 'missing' => 'Not tried'] as $status => $word) {
            $names = array_map(
                fn(array $c): string => lcfirst($c['title']),
                array_values(array_filter($checks, fn(array $c): bool => $c['status'] === $status)),
            );
            if ($names !== []) {
                $lines[] = sprintf('%s: %s.', $word, implode('; ', $names));
            }
        }

        return $lines;
    }
}
