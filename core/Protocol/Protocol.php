<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol;

use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Record\Fields;

/**
 * One guided run (handbook "Protocols"): what it needs, its steps, what is watched meanwhile, what ends it, and what it came to. The
 * same by hand, with a meter or with instruments. What was typed is all its state: it goes on where it was left, on any bench.
 */
abstract class Protocol
{
    /** Volts that any group may be said to have, and amps, ampere-hours, degrees: over these a unit was mistaken. */
    protected const MOST_A = 2000.0;

    protected const MOST_AH = 5000.0;

    protected const LEAST_C = -40.0;

    protected const MOST_C = 120.0;

    protected const MOST_V = 1500.0;

    abstract public function code(): string;

    abstract public function title(): string;

    /** What it tells, and how, in a sentence. */
    abstract public function why(): string;

    /** @return 'pack'|'group'|'pack-or-group'|'joint' what it is done to */
    public function scope(): string
    {
        return 'pack';
    }

    /** Whether it moves charge through the pack: gated, and looked at before. */
    public function moves(): bool
    {
        return true;
    }

    /** Whether it charges cells: begun by whoever may charge at the supply, and by nobody else. */
    public function charges(): bool
    {
        return false;
    }

    /** @return list<TestKind> tests of a verdict that it is the way of doing */
    public function tests(): array
    {
        return [];
    }

    /** @return list<Check> acceptance checks that it answers */
    public function proves(): array
    {
        return [];
    }

    /** @return list<Needs> */
    public function needs(Course $c): array
    {
        return [];
    }

    /** @return list<Step> as far as they are known */
    abstract public function steps(Course $c): array;

    /** @return list<string> what is watched meanwhile, and what ends it at once */
    public function watch(Course $c): array
    {
        return [];
    }

    /** What stands on record for a step that nobody typed: a set, a run, a log. */
    public function found(Course $c, Step $step, float $since): ?Entry
    {
        return $step->kind === StepKind::Read && $step->condition !== null ? Found::set($c, $step, $since) : null;
    }

    /** Whether enough was done for an outcome, though it could go on. */
    public function enough(Course $c): bool
    {
        return false;
    }

    abstract public function outcome(Course $c): Outcome;

    /**
     * What stands against an entry beside what each field says of itself.
     *
     * @return array<string, string> by field
     */
    protected function against(Course $c, Step $step, Fields $values): array
    {
        return [];
    }

    /**
     * What is wrong with what was typed at a step.
     *
     * @param  array<string, mixed>  $values
     * @return array<string, string> by field; empty when it can be taken
     */
    final public function problems(Course $c, Step $step, array $values): array
    {
        $out = [];
        foreach ($step->fields as $f) {
            $why = $f->problem($values[$f->name] ?? null, $c->pack->series);
            if ($why !== null) {
                $out[$f->name] = $why;
            }
        }
        foreach (array_diff(array_keys($values), array_map(fn(Field $f): string => $f->name, $step->fields)) as $unknown) {
            $out[(string) $unknown] = 'This step does not ask for that.';
        }

        return $out === [] ? $this->against($c, $step, new Fields(self::typed($step, $values))) : $out;
    }

    /**
     * What was typed, numbers as numbers.
     *
     * @param  array<string, mixed>  $values
     * @return array<string, mixed>
     */
    final public static function typed(Step $step, array $values): array
    {
        $out = [];
        foreach ($step->fields as $f) {
            $v = $values[$f->name] ?? null;
            if ($v === null || $v === '' || $v === []) {
                continue;
            }
            $out[$f->name] = match (true) {
                $f->kind === 'number' && is_string($v) => (float) \Heartwood\Core\Reading\TypedValue::parse($v)?->volts,
                $f->kind === 'number' => is_numeric($v) ? (float) $v : 0.0,
                is_string($v) => trim($v),
                default => $v,
            };
        }

        return $out;
    }

    /**
     * The set of the record that a reading becomes.
     *
     * @return array{set: array<string, mixed>, readings: list<array{from: string, to: string, typed: string}>}|null null where the step
     *   reads no groups
     */
    final public function set(Course $c, Step $step, Fields $values): ?array
    {
        $typed = $values->string('groups_v');
        if ($step->condition === null || $typed === null) {
            return null;
        }
        $amps = $values->float('current_a');
        $set = ['condition' => $step->condition->value];
        if ($amps !== null) {
            $set['current_a'] = $step->condition->value === 'discharge' ? -abs($amps) : abs($amps);
        }
        if ($step->sinceS !== null) {
            $set['since_current_s'] = $step->sinceS;
        }
        if ($values->float('ambient_c') !== null) {
            $set['ambient_c'] = $values->float('ambient_c');
        }

        return ['set' => $set, 'readings' => TypedGroups::of($typed, $c->pack->chemistry)->readings];
    }
}
