<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol\Kind;

use Heartwood\Core\Limits\ProtocolLimits;
use Heartwood\Core\Protocol\Course;
use Heartwood\Core\Protocol\Entry;
use Heartwood\Core\Protocol\Field;
use Heartwood\Core\Protocol\Outcome;
use Heartwood\Core\Protocol\Protocol;
use Heartwood\Core\Protocol\Step;
use Heartwood\Core\Record\Condition;
use Heartwood\Core\Work\Facts;

/** A full charge or discharge with every group read all along: who ends it, and which group is there first. */
abstract class Watched extends Protocol
{
    abstract protected function condition(): Condition;

    /** @return list<string> who may have ended it */
    abstract protected function endedBy(): array;

    protected function rows(string $text): Step
    {
        return Step::log('watch', $text, $this->condition(), ProtocolLimits::EVERY_MIN, [
            Field::number('current_a', 'Current, A', 0.0, self::MOST_A),
            Field::number('hottest_c', 'Hottest place, degC', self::LEAST_C, self::MOST_C, true),
        ]);
    }

    protected function end(string $text): Step
    {
        return Step::ask('end', $text, [
            Field::choice('stopped_by', 'Ended by', $this->endedBy()),
            Field::number('after_ah', 'After, Ah', 0.0, self::MOST_AH, true),
        ]);
    }

    /** A charge or discharge that was watched at the supply stands on record when it came to its own end: nobody types it again. */
    public function found(Course $c, Step $step, float $since): ?Entry
    {
        $kind = $this->condition() === Condition::Charge ? 'charge' : 'discharge';
        foreach ($step->code === 'end' ? array_reverse($c->record->currentTests($kind)) : [] as $t) {
            $at = Facts::time($t->data);
            if ($at >= $since) {
                $values = ['stopped_by' => $t->data->string('stopped_by'), 'volts' => $t->data->numbers('groups_v')];
                $ah = $t->data->float('after_ah');

                return new Entry(
                    'end',
                    $at,
                    $ah === null ? $values : $values + ['after_ah' => $ah],
                    false,
                    'what was watched at the supply',
                );
            }
        }

        return parent::found($c, $step, $since);
    }

    /** Groups are there first by what they show: +1 highest, -1 lowest. */
    private function sign(): int
    {
        return $this->condition() === Condition::Charge ? 1 : -1;
    }

    /**
     * What the rows say: the last of them, the group that is there first, how far it is ahead, and what hinders telling.
     *
     * @return array{list<float|null>, int|null, float, list<string>}
     */
    protected function told(Course $c): array
    {
        $rows = $c->all('watch');
        $end = $c->entry('end');
        $missing = [];
        $last = match (true) {
            $rows !== [] => $c->groupsOf($rows[count($rows) - 1]),
            $end !== null => $end->fields()->numbers('volts'),
            default => [],
        };
        if ($last === []) {
            return [[], null, 0.0, ['No group was read while it ran.']];
        }
        if ($rows === []) {
            return [$last, ...$this->firstOf($c, $last)];
        }
        $times = array_map(fn(Entry $e): float => $e->at, $rows);
        $until = $end === null ? $times[count($times) - 1] : $end->at;
        $whole = $until - $times[0];
        $gaps = array_map(fn(float $a, float $b): float => $b - $a, $times, [...array_slice($times, 1), $until]);
        // A minute's grace: a hand writes a row down after it was read.
        $slow = max($gaps) / 60;
        if ($slow > ProtocolLimits::EVERY_MIN + 1) {
            $missing[] = sprintf('%.0f min went by without a reading: every %.0f are wanted.', $slow, ProtocolLimits::EVERY_MIN);
        }
        $tail = $until - $times[count($times) - 1];
        if ($tail > max(ProtocolLimits::TAIL_EVERY_S + 60, ProtocolLimits::TAIL_PART * $whole)) {
            $missing[] = sprintf('The last reading is %.0f min older than its end: which group ended it is not seen.', $tail / 60);
        }
        [$first, $ahead, $unread] = $this->firstOf($c, $last);

        return [$last, $first, $ahead, [...$missing, ...$unread]];
    }

    /**
     * @param  list<float|null>  $last  volts of the groups when it ended
     * @return array{int|null, float, list<string>} which was there first, volts ahead of the next, and what hinders telling
     */
    private function firstOf(Course $c, array $last): array
    {
        $read = array_filter($last, fn(?float $v): bool => $v !== null);
        arsort($read);
        $order = $this->sign() > 0 ? $read : array_reverse($read, true);
        $first = array_key_first($order);
        $next = array_values($order)[1] ?? reset($order);

        return [
            $first === null ? null : $first + 1,
            $first === null ? 0.0 : abs($order[$first] - $next),
            count($read) < $c->pack->series ? ['Not every group was read when it ended.'] : [],
        ];
    }

    /**
     * @param  list<float|null>  $last
     * @return list<array<string, mixed>> a test of the record; none where one stands there already
     */
    protected function test(Course $c, string $kind, array $last): array
    {
        if (($c->entry('end')->found ?? '') !== '') {
            return [];
        }
        $end = $c->values('end');
        $rows = $c->all('watch');
        $amps = $rows === [] ? null : $rows[count($rows) - 1]->fields()->float('current_a');

        return [
            array_filter(
                [
                    'kind' => $kind,
                    'stopped_by' => $end->string('stopped_by'),
                    'after_ah' => $end->float('after_ah'),
                    'groups_v' => $last === [] ? null : $last,
                    'current_a' => $amps === null ? null : $this->sign() * abs($amps),
                ],
                fn(mixed $x): bool => $x !== null,
            ),
        ];
    }

    abstract public function outcome(Course $c): Outcome;
}
