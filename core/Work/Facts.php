<?php

declare(strict_types=1);

namespace Heartwood\Core\Work;

use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Record\Condition;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Measurement;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Record\Reading;

/** All that is on record of a job and may close a step of its work. Times are seconds of the epoch, volts, ohms, amps. */
final readonly class Facts
{
    /** @var list<array{at: float, groups: list<int>}> sets at rest of the pack as it is, and the groups that each of them tells */
    public array $rests;

    /** @var list<float|null> volts at rest of each group of the pack as it is, from B- */
    public array $groupsV;

    private PackEvidence $evidence;

    /**
     * @param  array{steps: int, at: float|null, back: float|null, left: int}  $teardown  back: when the last
     *   thing of it was put back
     * @param  list<array{at: float, group: int,
     *   cells: list<array{code: string, v: float|null, ohm: float, ah: float, max_a: float}>}>  $cells
     * @param  list<array{kind: string, group: int|null, started: float, ended: float|null, good: bool, text: string}>  $runs
     * @param  list<array{at: float, tap: int, text: string}>  $joints
     */
    public function __construct(
        public JobRecord $record,
        public array $teardown = ['steps' => 0, 'at' => null, 'back' => null, 'left' => 0],
        public array $cells = [],
        public array $runs = [],
        public array $joints = [],
    ) {
        $rests = [];
        foreach ($record->current() as $set) {
            if ($set->condition === Condition::Rest && $set->at !== null) {
                $rests[] = ['at' => (float) $set->at->getTimestamp(), 'groups' => self::told($set, $record->pack->series)];
            }
        }
        $this->rests = $rests;
        $this->evidence = new PackEvidence($record);
        $this->groupsV = array_map(fn(object $g): ?float => $g->restV, $this->evidence->groups);
    }

    /** @return list<float|null> volts of each group at rest nearest in time to a test, from B- */
    public function groupsWhen(Fields $test): array
    {
        return $this->evidence->standingNear($test->string('at'));
    }

    /** @return list<Fields> tests of a kind, of the pack as it is or was, not older than this */
    public function tests(string $kind, float $after): array
    {
        $out = [];
        foreach ($this->record->tests as $t) {
            if ($t->kind === $kind && self::time($t->data) >= $after) {
                $out[] = $t->data;
            }
        }

        return $out;
    }

    /** Volts of a group in the last set at rest that tells it, of the pack as it is or was; null where none does. */
    public function lastV(int $group): ?float
    {
        $sets = array_filter($this->record->measurements, fn(Measurement $m): bool => $m->condition === Condition::Rest);
        usort($sets, fn(Measurement $a, Measurement $b): int => ($b->at?->getTimestamp() ?? 0) <=> ($a->at?->getTimestamp() ?? 0));
        foreach ($sets as $set) {
            $at = [$group - 1 => 0.0];
            // As far as readings lead from its lower tap.
            for ($more = true; $more; ) {
                $more = false;
                foreach ($set->readings as $r) {
                    [$a, $b] = [Reading::tap($r->from), Reading::tap($r->to)];
                    if ($a !== null && $b !== null && isset($at[$a]) !== isset($at[$b])) {
                        isset($at[$a]) ? ($at[$b] = $at[$a] + $r->volts) : ($at[$a] = $at[$b] - $r->volts);
                        $more = true;
                    }
                }
            }
            if (isset($at[$group])) {
                return $at[$group];
            }
        }

        return null;
    }

    /** @return array<int, float> by group, when it was last charged by itself, not before this */
    public function charged(float $after): array
    {
        $out = [];
        foreach ($this->record->events as $e) {
            $place = Place::from($e->object('where'));
            $at = self::time($e);
            if (in_array($e->string('kind'), ['group-charged', 'balanced'], true) && $at >= $after) {
                foreach ($place->kind === 'group' ? [$place->number] : range(1, $this->record->pack->series) as $k) {
                    $out[$k] = max($at, $out[$k] ?? 0.0);
                }
            }
        }

        return $out;
    }

    public static function time(Fields $f): float
    {
        $at = $f->string('at');

        return $at === null ? 0.0 : (float) (new \DateTimeImmutable($at))->getTimestamp();
    }

    /**
     * Groups whose two taps are joined by readings, directly or through others.
     *
     * @return list<int>
     */
    private static function told(Measurement $set, int $series): array
    {
        $of = range(0, $series);
        $root = function (int $t) use (&$of): int {
            while ($of[$t] !== $t) {
                $t = $of[$t];
            }

            return $t;
        };
        foreach ($set->readings as $r) {
            [$a, $b] = [Reading::tap($r->from), Reading::tap($r->to)];
            if ($a !== null && $b !== null && $a <= $series && $b <= $series) {
                $of[$root($a)] = $root($b);
            }
        }

        return array_values(array_filter(range(1, $series), fn(int $k): bool => $root($k - 1) === $root($k)));
    }
}
