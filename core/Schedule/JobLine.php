<?php

declare(strict_types=1);

namespace Heartwood\Core\Schedule;

/**
 * A job as a line of time: sittings, in which somebody or a run was at it, and the waits between them. Marks of one kind that
 * follow one another in a sitting are told together.
 */
final readonly class JobLine
{
    /** Hours without a mark after which the next is another sitting (assumed). */
    public const APART_H = 2.0;

    /** Sittings shown at the most, the latest; of a long history the older ones are counted (assumed). */
    public const MOST = 24;

    /** What a mark is, and the word for one and for several. */
    public const KINDS = [
        'in' => ['taken in', 'taken in'],
        'set' => ['set', 'sets'],
        'test' => ['test', 'tests'],
        'verdict' => ['verdict', 'verdicts'],
        'decision' => ['decision', 'decisions'],
        'run' => ['run', 'runs'],
        'step' => ['step', 'steps'],
        'proof' => ['proof', 'proofs'],
        'out' => ['closed', 'closed'],
    ];

    /**
     * @param  list<array{from: string, to: string, wait_h: float, marks: list<array<string, mixed>>}>  $sittings
     * @param  float  $openH  hours since the last mark, of a job that is open; 0.0 of one that is closed
     */
    private function __construct(public array $sittings, public int $earlier, public float $openH) {}

    /**
     * @param  list<array{at: \DateTimeImmutable, until?: \DateTimeImmutable|null, kind: string, title: string}>  $marks  in any order
     * @param  \DateTimeImmutable|null  $now  null: the job is closed, nothing is waited for
     */
    public static function of(array $marks, ?\DateTimeImmutable $now): self
    {
        // Within one second, in the order in which such things are done: benches write whole seconds.
        $order = array_flip(array_keys(self::KINDS));
        usort(
            $marks,
            fn(array $a, array $b): int => [$a['at']->getTimestamp(), $order[$a['kind']]] <=> [
                $b['at']->getTimestamp(),
                $order[$b['kind']],
            ],
        );
        $sittings = [];
        $end = null;
        foreach ($marks as $m) {
            $until = isset($m['until']) && $m['until'] > $m['at'] ? $m['until'] : $m['at'];
            $gap = $end === null ? 0.0 : self::hours($end, $m['at']);
            if ($end === null || $gap > self::APART_H) {
                $sittings[] = ['from' => $m['at'], 'to' => $until, 'wait_h' => max(0.0, $gap), 'marks' => []];
            }
            $end = $end === null ? $until : max($end, $until);
            $k = count($sittings) - 1;
            $sittings[$k]['to'] = max($sittings[$k]['to'], $until);
            $last = count($sittings[$k]['marks']) - 1;
            // Runs stand by themselves: each has its length.
            if ($last >= 0 && $m['kind'] !== 'run' && $sittings[$k]['marks'][$last]['kind'] === $m['kind']) {
                $sittings[$k]['marks'][$last]['titles'][] = $m['title'];

                continue;
            }
            $sittings[$k]['marks'][] = ['kind' => $m['kind'], 'titles' => [$m['title']], 'hours' => self::hours($m['at'], $until)];
        }
        $shown = array_slice($sittings, -self::MOST);

        return new self(
            array_map(
                fn(array $s): array => [
                    'from' => $s['from']->format('Y-m-d\TH:i:s\Z'),
                    'to' => $s['to']->format('Y-m-d\TH:i:s\Z'),
                    'wait_h' => round($s['wait_h'], 2),
                    'marks' => array_map(self::told(...), $s['marks']),
                ],
                $shown,
            ),
            count($sittings) - count($shown),
            $now === null || $end === null ? 0.0 : max(0.0, round(self::hours($end, $now), 2)),
        );
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return ['sittings' => $this->sittings, 'earlier' => $this->earlier, 'open_h' => $this->openH];
    }

    /**
     * @param  array{kind: string, titles: list<string>, hours: float}  $m
     * @return array{kind: string, text: string, more: string, hours: float}
     */
    private static function told(array $m): array
    {
        $n = count($m['titles']);
        $unique = array_values(array_unique($m['titles']));

        return [
            'kind' => $m['kind'],
            'text' => $n === 1 ? $m['titles'][0] : $n . ' ' . self::KINDS[$m['kind']][1],
            'more' => $n === 1 ? '' : implode(', ', $unique),
            'hours' => round($m['hours'], 2),
        ];
    }

    /** Up to here a time is told in minutes (min), and from there in days (h): how times are written, not a rule. */
    private const MINUTES_BELOW = 90;

    private const DAYS_FROM_H = 48;

    /** A length of time in the unit that says something: 40 min, 3.5 h, 12 h, 3 days. @param  float  $hours  not negative */
    public static function lasting(float $hours): string
    {
        $minutes = (int) round($hours * 60);

        return match (true) {
            $minutes < self::MINUTES_BELOW => "{$minutes} min",
            $hours < 10 => round($hours, 1) . ' h',
            $hours < self::DAYS_FROM_H => round($hours) . ' h',
            default => round($hours / 24) . ' days',
        };
    }

    private static function hours(\DateTimeImmutable $from, \DateTimeImmutable $to): float
    {
        return ($to->getTimestamp() - $from->getTimestamp()) / 3600;
    }
}
