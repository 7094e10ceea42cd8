<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\GroupEvidence;
use Heartwood\Core\Diagnosis\Verdict;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Repair\RepairAction;

/** Walks a round's evidence in the order in which it came: what was known when, what would have told more, where the tool went. */
final readonly class Debrief
{
    /** Lines of the walk: what changed most is not told at each of a hundred readings. */
    private const LINES = 12;

    private const DAY_S = 86_400;

    public function __construct(private Start $start) {}

    /**
     * @param  list<Fields>  $acts
     * @param  int  $played  so many of them were played
     * @param  list<array{code: string, where: array<string, int>|null}>  $truth
     * @return list<string> sentences
     */
    public function of(array $acts, int $played, array $truth, ?string $unsafe, Tool $tool, Verdict $best): array
    {
        $lines = [
            $truth === [] ? 'Nothing was wrong with this pack.' : 'It was: ' . implode('; ', array_map(self::named(...), $truth)) . '.',
        ];
        if ($unsafe !== null) {
            $lines[] = "It ended by an unsafe act. $unsafe";
        }
        $round = $this->start->round();
        $last = null;
        $verdict = null;
        foreach (array_slice($acts, 0, $played) as $i => $act) {
            $round->play($act);
            $next = $acts[$i + 1] ?? null;
            // One line after the readings of a sitting, one after each other act.
            if ($act->string('do') === 'read' && $next !== null && $next->string('do') === 'read' && $i + 1 < $played) {
                continue;
            }
            if (!self::isRead($round)) {
                continue;
            }
            $verdict = $round->verdict();
            $known = self::known($verdict);
            if ($known !== $last && count($lines) < self::LINES) {
                $lines[] = sprintf('After %s: %s.', self::did($act), $known);
                $last = $known;
            }
        }
        if ($verdict === null) {
            $lines[] = 'The groups were never read at rest: without that nobody can tell.';
        } elseif ($verdict->nextTests !== []) {
            $next = $verdict->nextTests[0];
            $lines[] = "What would have told more: {$next->test->title()}. {$next->why}";
        }
        $parted = self::parted(
            self::line(array_map(fn(Fields $a): array => $a->all(), array_slice($acts, 0, $played))),
            self::line($tool->acts),
        );
        if ($parted !== null) {
            $lines[] = $parted;
        }
        $lines[] = sprintf(
            'The best line took %s: %s. It came to: %s.',
            self::time($tool->seconds),
            implode(', ', self::line($tool->acts)),
            self::known($best),
        );

        return $lines;
    }

    /**
     * What was done after the answer, and how each run at the supply ended.
     *
     * @param  list<Fields>  $acts
     * @param  list<array{seconds: int, result: array<string, mixed>|object}>  $done  as many of them as were played
     * @return list<string>
     */
    public static function ofWork(array $acts, array $done): array
    {
        $lines = [];
        $line = self::line(array_map(fn(Fields $a): array => $a->all(), array_slice($acts, 0, count($done))));
        $lines[] =
            $line === []
                ? 'Nothing was done of what was chosen.'
                : sprintf('Carried out in %s: %s.', self::time(array_sum(array_column($done, 'seconds'))), implode(', ', $line));
        foreach ($done as $i => $d) {
            $result = new Fields((array) $d['result']);
            if ($acts[$i]->string('do') === 'supply' && $result->has('ended')) {
                $k = $result->int('group');
                $lines[] = sprintf(
                    'The supply on %s ended (%s) after %.1f h and %.2f Ah: %s',
                    $k === null ? 'the whole pack' : "group $k",
                    $result->string('ended'),
                    $result->float('hours'),
                    $result->float('ah'),
                    $result->string('text'),
                );
            }
        }
        return $lines;
    }

    private static function isRead(Round $round): bool
    {
        return array_filter($round->evidence()->groups, fn(GroupEvidence $e): bool => $e->restV === null) === [];
    }

    private static function known(Verdict $v): string
    {
        $top = array_slice(array_filter($v->findings, fn(Finding $f): bool => $f->probability >= Finding::LISTED), 0, 2);

        return $top === []
            ? 'nothing stands out'
            : implode(', ', array_map(fn(Finding $f): string => sprintf('%s (%.0f %%)', lcfirst($f->title), 100 * $f->probability), $top));
    }

    /** @param  array{code: string, where: array<string, int>|null}  $t */
    private static function named(array $t): string
    {
        $words = Faults::of($t['code'])->words();

        return $t['where'] === null ? $words->anywhere() : $words->titleAt((int) array_values($t['where'])[0]);
    }

    private static function did(Fields $act): string
    {
        $test = $act->object('test');

        return match ($act->string('do')) {
            'read' => 'these readings',
            'look' => 'the look at it',
            'wait' => 'the wait',
            'load' => 'the load',
            'charge' => 'the charge',
            'test' => 'the test "' . (Outcome::asTest((string) $test->string('kind'))?->title() ?? $test->string('kind')) . '"',
            default => 'the sense plug',
        };
    }

    /**
     * @param  list<array<string, mixed>>  $acts
     * @return list<string> in words, what follows one another alike said once
     */
    private static function line(array $acts): array
    {
        $out = [];
        foreach ($acts as $a) {
            $word = self::said(new Fields($a));
            if ($out === [] || $out[count($out) - 1] !== $word) {
                $out[] = $word;
            }
        }

        return $out;
    }

    /**
     * @param  list<string>  $mine
     * @param  list<string>  $best
     * @return string|null where one line left the other; null where both are one
     */
    private static function parted(array $mine, array $best): ?string
    {
        for ($n = 0; $n < count($mine) || $n < count($best); $n++) {
            $did = $mine[$n] ?? null;
            $would = $best[$n] ?? null;
            if ($did !== $would) {
                $after = $n === 0 ? 'At the first step' : "After \"{$best[$n - 1]}\"";

                return match (true) {
                    $did === null => "$after it stopped; the best line went on: $would.",
                    $would === null => "$after the best line was done; here it went on: $did.",
                    default => "$after it went another way: $did, where the best line had: $would.",
                };
            }
        }

        return null;
    }

    /** An act in a few words, without its place. */
    public static function said(Fields $act): string
    {
        $kind = (string) $act->object('test')->string('kind');

        return match ($act->string('do')) {
            'test' => lcfirst(Outcome::asTest($kind)?->title() ?? $kind),
            'wait' => sprintf('wait %s', self::time((int) (3600 * (float) $act->float('hours')))),
            'hands' => lcfirst(RepairAction::tryFrom((string) $act->string('action'))?->title() ?? 'by hand'),
            'supply' => 'supply' . (($k = $act->int('group')) === null ? '' : " on group $k"),
            'isolate' => 'zero current proved',
            'level' => 'levelled on its charger',
            default => (string) $act->string('do'),
        };
    }

    private static function time(int $seconds): string
    {
        return match (true) {
            $seconds < 3600 => sprintf('%d min', max(1, (int) round($seconds / 60))),
            $seconds < 2 * self::DAY_S => sprintf('%.1f h', $seconds / 3600),
            default => sprintf('%.1f days', $seconds / self::DAY_S),
        };
    }
}
