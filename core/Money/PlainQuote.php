<?php

declare(strict_types=1);

namespace Heartwood\Core\Money;

use Heartwood\Core\Work\PlainReport;

/** A quote as the owner of a pack reads it: what was found, what is proposed, what it costs and takes, what happens if more is found. */
final class PlainQuote
{
    private const MINUTES = 60;

    private const DAY_H = 24;

    /**
     * @param  list<array{code: string, title: string, where: array<string, int|string>|null, probability: float,
     *   evidence: list<array{basis: string}>}>  $findings
     * @param  string  $proposed  what is proposed, and where
     * @param  float|null  $usableAh  expected after it
     * @param  list<string>  $leaves  what stays as it is, in words
     * @param  string|null  $ceiling  up to which work goes on without a call, with its currency; null: none was agreed
     * @param  bool  $over  whether this quote is over that
     * @param  string|null  $newPack  what a new pack costs, with its currency
     * @param  bool  $listed  whether somebody said so, or it was worked out from its energy
     * @return list<array{title: string, lines: list<string>}>
     */
    public static function of(
        array $findings,
        string $proposed,
        string $why,
        ?float $usableAh,
        int $handsMinutes,
        float $waitHours,
        array $leaves,
        ?string $ceiling,
        bool $over,
        ?string $newPack,
        bool $listed,
    ): array {
        $propose = ["$proposed.", ...$why === '' ? [] : [$why]];
        if ($usableAh !== null) {
            $propose[] = sprintf('It should give about %.1f Ah after it: expected, and proved before it goes back.', $usableAh);
        }
        $parts = [
            ['title' => 'What we found', 'lines' => PlainReport::found($findings)],
            ['title' => 'What we propose', 'lines' => $propose],
            ['title' => 'How long it takes', 'lines' => [self::time($handsMinutes, $waitHours)]],
            ['title' => 'What it leaves as it is', 'lines' => array_map(ucfirst(...), $leaves)],
            [
                'title' => 'If more is found',
                'lines' => match (true) {
                    $ceiling === null => ['Nothing beyond this is done before you were called.'],
                    $over => ["This is more than the $ceiling that you agreed to: it begins when you say so."],
                    default => ["You agreed that work goes on up to $ceiling. Before anything beyond that you are called."],
                },
            ],
            [
                'title' => 'A new one instead',
                'lines' =>
                    $newPack === null
                        ? []
                        : [$listed ? "A new pack costs $newPack." : "A new pack of this size costs about $newPack (taken for granted)."],
            ],
        ];

        return array_values(array_filter($parts, fn(array $p): bool => $p['lines'] !== []));
    }

    /** Hands and waiting told apart: the pack is away for both. */
    private static function time(int $minutes, float $waitHours): string
    {
        $hours = intdiv($minutes, self::MINUTES);
        $hands = match (true) {
            $minutes === 0 => 'No work of hands',
            $hours === 0 => "$minutes min of work",
            $minutes % self::MINUTES === 0 => "$hours h of work",
            default => sprintf('%d h %d min of work', $hours, $minutes % self::MINUTES),
        };
        $wait = match (true) {
            $waitHours <= 0.0 => '',
            $waitHours < self::DAY_H => sprintf(', and %.0f h in which the pack itself needs its time', $waitHours),
            default => sprintf(
                ', and %d %s in which the pack itself needs its time',
                (int) ceil($waitHours / self::DAY_H),
                $waitHours <= self::DAY_H ? 'day' : 'days',
            ),
        };

        return "$hands$wait.";
    }
}
