<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol\Kind;

use Heartwood\Core\Proof\Check;
use Heartwood\Core\Protocol\Course;
use Heartwood\Core\Protocol\Field;
use Heartwood\Core\Protocol\Needs;
use Heartwood\Core\Protocol\Outcome;
use Heartwood\Core\Protocol\Protocol;
use Heartwood\Core\Protocol\Ready;
use Heartwood\Core\Protocol\Step;
use Heartwood\Core\Record\Condition;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Recovery\HoldTest;

/** Whether groups keep their charge beside each other: read from six hours after the charge, and again a day later. */
final class Hold extends Protocol
{
    /** Readings after the second, where it could not be told yet. */
    private const MORE = 8;

    /** A meter that shows three decimals resolves this. */
    private const FINE_V = 0.001;

    private const COARSE_V = 0.01;

    private const DECIMALS = 3;

    public function code(): string
    {
        return 'hold';
    }

    public function title(): string
    {
        return 'Hold test';
    }

    public function why(): string
    {
        return 'Left alone from six hours after its charge and read a day apart: what a group loses beyond the others is its leak.';
    }

    public function scope(): string
    {
        return 'pack-or-group';
    }

    public function moves(): bool
    {
        return false;
    }

    public function proves(): array
    {
        return [Check::Hold];
    }

    public function needs(Course $c): array
    {
        return [
            Ready::read($c),
            $c->pack->chemistry->isPhosphate()
                ? new Needs(
                    'On phosphate volts say next to nothing of a leak: fill it again instead.',
                    false,
                    'protocols?start=refill',
                    'Fill it again',
                )
                : new Needs('Its volts tell its charge.', true),
        ];
    }

    public function steps(Course $c): array
    {
        $steps = [
            Step::ask('ended', 'Charger, load and sibling packs off. When did its charge end?', [
                Field::number('hours', 'Hours ago', 0.0, HoldTest::HOURS_A_MONTH),
            ]),
            Step::wait('settle', 'Let it settle: readings count from six hours after the charge.', $this->settles($c)),
            Step::read('first', 'Read every group, to the millivolt, always with the same meter.', Condition::Rest)->in(
                'probe',
                'Read the groups',
            ),
            Step::wait('day', 'Leave it alone for a day.', 60 * HoldTest::OVER_H),
            Step::read('again-1', 'Read every group again.', Condition::Rest)->in('probe', 'Read the groups'),
        ];
        for ($i = 1; $i <= self::MORE; $i++) {
            $hours = $c->entry("again-$i") === null ? null : $this->readAgain($c);
            if ($hours === null) {
                break;
            }
            $steps[] = Step::wait("wait-$i", sprintf('Not told apart yet: leave it alone for %.0f h more.', $hours), 60 * $hours);
            $steps[] = Step::read('again-' . ($i + 1), 'Read every group again.', Condition::Rest)->in('probe', 'Read the groups');
        }

        return $steps;
    }

    public function enough(Course $c): bool
    {
        return $c->entry('again-1') !== null;
    }

    private function settles(Course $c): float
    {
        return 60 * max(0.0, HoldTest::FROM_H - ($c->values('ended')->float('hours') ?? 0.0));
    }

    /** Hours until it can be told; null when it can. */
    private function readAgain(Course $c): ?float
    {
        $more = array_filter(
            array_map(fn(HoldTest $t): ?float => $t->outcome === 'cannot-tell-yet' ? $t->readAgainInH : null, $this->judged($c)),
        );

        return $more === [] ? null : max($more);
    }

    /** @return array<int, HoldTest> by group: of the one that it is about, or of all */
    private function judged(Course $c): array
    {
        $ended = $c->entry('ended');
        if ($ended === null) {
            return [];
        }
        $from = $ended->at - 3600 * ($ended->fields()->float('hours') ?? 0.0);
        $rows = [];
        foreach (['first', ...array_map(fn(int $i): string => "again-$i", range(1, self::MORE + 1))] as $step) {
            $entry = $c->entry($step);
            if ($entry !== null) {
                $rows[] = [($entry->at - $from) / 3600, $c->groupsOf($entry)];
            }
        }
        $out = [];
        foreach ($c->scope->kind === 'group' ? [$c->scope->number] : range(1, $c->pack->series) as $k) {
            $read = [];
            foreach ($rows as [$h, $volts]) {
                $v = $volts[$k - 1] ?? null;
                $others = array_values(
                    array_filter($volts, fn(?float $o, int $i): bool => $o !== null && $i !== $k - 1, ARRAY_FILTER_USE_BOTH),
                );
                if ($v !== null) {
                    $read[] = ['h' => $h, 'v' => $v, 'others' => $others];
                }
            }
            $out[$k] = HoldTest::judge($read, $c->pack->chemistry, $this->resolution($c));
        }

        return $out;
    }

    /** What the meter shows, by the fewest decimals that were typed. */
    private function resolution(Course $c): float
    {
        foreach ($c->entries as $e) {
            $typed = $e->fields()->string('groups_v');
            foreach ($typed === null ? [] : \Heartwood\Core\Protocol\TypedGroups::split($typed) as $part) {
                if (preg_match('/[.,](\d+)/', $part, $m) !== 1 || strlen($m[1]) < self::DECIMALS) {
                    return self::COARSE_V;
                }
            }
        }

        return self::FINE_V;
    }

    protected function against(Course $c, Step $step, Fields $values): array
    {
        $typed = $values->string('groups_v');
        if ($typed === null || $c->scope->kind !== 'group') {
            return [];
        }
        $volts = \Heartwood\Core\Protocol\TypedGroups::of($typed, $c->pack->chemistry)->volts;

        return $volts[$c->scope->number - 1] === null ? ['groups_v' => "Group {$c->scope->number} is what it is about: read it."] : [];
    }

    public function outcome(Course $c): Outcome
    {
        $all = $this->judged($c);
        $missing = $bad = $rates = [];
        foreach ($all as $k => $t) {
            if ($t->outcome === 'reject') {
                $bad[] = "Group $k: $t->text";
            } elseif ($t->outcome !== 'pass') {
                $missing[] = "Group $k: $t->text";
            }
            if ($t->percentMonth !== null) {
                $rates[$k] = $t->percentMonth;
            }
        }
        arsort($rates);
        $worst = array_key_first($rates);
        $text =
            $worst === null
                ? 'Not read twice yet'
                : sprintf('Group %d loses most beyond the others: %.1f %% a month', $worst, $rates[$worst]);

        // One that leaks is told, whatever cannot be told of the others yet.
        return Outcome::of($bad === [], $bad === [] ? $missing : [], $text, $bad === [] ? [] : $bad);
    }
}
