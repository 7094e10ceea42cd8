<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Diagnosis\Verdict;
use Heartwood\Core\Limits\TrainerLimits;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\JobRecord;

/**
 * One round as it is played: acts in, what the bench shows out, the clock, and the record of what has been measured so far. What is
 * wrong with the pack stays inside.
 */
final class Round
{
    /** When every round begins, so that the same acts give the same record. */
    private const BEGINS = '2026-05-04T08:00:00Z';

    /** Seconds for one group while current flows: the probe walks up the pack. */
    private const WALK_S = 4;

    /** A set of readings goes on for so long; what is read later opens the next. */
    private const SET_S = 1800;

    private const AMBIENT_C = 20;

    /** A slip goes up as often as down. */
    private const EITHER = 0.5;

    /** Amps that are none. */
    private const NO_A = 1e-6;

    /** A test that no other list knows takes so many minutes. */
    private const TEST_MIN = 5;

    /** Acts by which current may flow. */
    private const WITH_CURRENT = ['load', 'charge', 'test', 'supply', 'level'];

    /** @var list<array<string, mixed>> sets, their readings apart */
    private array $sets = [];

    /** @var list<list<array<string, mixed>>> readings of each of them */
    private array $readings = [];

    /** @var list<array<string, mixed>> */
    private array $tests = [];

    /** @var list<array<string, mixed>> */
    private array $events = [];

    private bool $looked = false;

    /** The pack as it came is its first; whatever alters it opens the next. */
    private int $revision = 1;

    /** The choice as it is carried out; null until there is one. */
    public ?Working $working = null;

    private int $acts = 0;

    /** Why the round is over though nothing was answered: the rule that an act broke. */
    public ?string $unsafe = null;

    public function __construct(
        public readonly Patient $patient,
        private Meter $meter,
        private readonly int $level,
        private readonly string $seed,
    ) {}

    /**
     * @param  Fields  $act  as the contract has it
     * @return array{seconds: int, result: array<string, mixed>|object} seconds it took, and what came of it
     */
    public function play(Fields $act): array
    {
        $began = $this->patient->clockS;
        $luck = new Luck($this->seed, 'act', (string) $this->acts++);
        try {
            $unsafe = (new Unsafe($this))->why($act) ?? $this->working?->unsafe($act);
            if ($unsafe !== null) {
                $this->unsafe = $unsafe;

                return ['seconds' => 0, 'result' => ['refused' => true, 'why' => $unsafe]];
            }
            if ($this->patient->flowedS > 3600 * TrainerLimits::CURRENT_H && in_array($act->string('do'), self::WITH_CURRENT, true)) {
                throw new InVain('It has been charged and drawn for longer than any round needs: say what it is.');
            }
            $result = match ($act->string('do')) {
                'read' => $this->read($act, $luck),
                'look' => $this->look(),
                'wait' => $this->wait((float) $act->float('hours')),
                'unplug', 'plug' => $this->plug($act->string('do') === 'plug'),
                'load' => $this->current(-abs((float) $act->float('current_a')), (float) $act->float('seconds'), $luck),
                'charge' => $this->current(abs((float) $act->float('current_a')), 60 * (float) $act->float('minutes'), $luck),
                'test' => $this->test($act->object('test'), $luck),
                'isolate', 'hands', 'supply', 'level' => $this->work($act, $luck),
                default => throw new InVain('There is no such act.'),
            };
            $this->working?->connected($act);
        } catch (InVain $e) {
            $this->patient->rests(TrainerLimits::IN_VAIN_S);
            $result = ['refused' => true, 'why' => $e->getMessage()];
        }

        return ['seconds' => (int) round($this->patient->clockS - $began), 'result' => $result === [] ? (object) [] : $result];
    }

    /** From here on what was chosen is carried out, and the bench's own meter lies beside the pack. */
    public function carryOut(Fields $answer): void
    {
        $this->working = new Working($this, $answer);
        $this->meter = new Meter('bench', new Luck($this->seed, 'bench meter'), 'bench meter');
        $this->open['key'] = '';
    }

    /** @return array<string, mixed> */
    private function work(Fields $act, Luck $luck): array
    {
        $working = $this->working ?? throw new InVain('Say first what it is and what is to be done with it.');
        $this->open['key'] = '';

        return $working->play($act, $this->meter, $luck);
    }

    /** Cells, joints or board are others from here on: what was measured before says nothing of them. */
    public function altered(): void
    {
        $this->revision++;
    }

    /** @param  array<string, int>|null  $where */
    public function happened(string $kind, ?array $where): void
    {
        $this->events[] =
            ['at' => $this->now(), 'kind' => $kind, 'revision' => $this->revision] + ($where === null ? [] : ['where' => $where]);
    }

    /**
     * A supply was on a group, or on the whole string.
     *
     * @param  list<array<string, float>>  $slow  samples of a group that came up from under its pre-charge
     */
    public function charged(?int $group, array $slow): void
    {
        $this->happened($group === null ? 'balanced' : 'group-charged', $group === null ? null : ['group' => $group]);
        if ($group === null || $slow === []) {
            return;
        }
        $this->keep('recovery', [
            'scope' => ['group' => $group],
            'current_a' => $slow[0]['a'],
            'ambient_c' => self::AMBIENT_C,
            'samples' => $slow,
        ]);
    }

    /** @return list<float|null>|null volts of the sense plug's pins as they were read last on the pack as it is now */
    public function pinsRead(): ?array
    {
        foreach (array_reverse($this->tests) as $t) {
            if ($t['kind'] === 'pin-check' && $t['revision'] === $this->revision) {
                return (new Fields($t))->numbers('pins_v');
            }
        }

        return null;
    }

    public function hasLooked(): bool
    {
        return $this->looked;
    }

    /** @return array<string, mixed> a job record of what has been measured so far */
    public function record(): array
    {
        return [
            'format' => 'heartwood.job',
            'version' => 1,
            ...$this->revision > 1 ? ['revision' => $this->revision] : [],
            'pack' => $this->patient->pack,
            'symptoms' => $this->patient->symptoms,
            ...$this->looked ? ['inspection' => $this->patient->inspection] : [],
            'events' => $this->events,
            'measurements' => array_map(fn(array $s, array $r): array => $s + ['readings' => $r], $this->sets, $this->readings),
            'tests' => $this->tests,
        ];
    }

    /** @return array<string, mixed> the meter that lies on the bench, as the record has it */
    public function instrument(): array
    {
        return $this->meter->toArray();
    }

    /** What the last test came to; nothing where there was none. */
    public function lastTest(): Fields
    {
        return Fields::of($this->tests[count($this->tests) - 1] ?? null);
    }

    /** What the record says by now. */
    public function evidence(): PackEvidence
    {
        return new PackEvidence(JobRecord::fromArray($this->record()));
    }

    /** @return list<float|null> volts of every group at rest, as far as they have been read, or as a run at the supply left them */
    public function knownV(): array
    {
        return array_map(fn($g): ?float => $g->restV ?? ($this->working?->lastV[$g->group] ?? null), $this->evidence()->groups);
    }

    /** The verdict of it. */
    public function verdict(): Verdict
    {
        return Diagnoser::diagnose(JobRecord::fromArray($this->record()));
    }

    /** @return array<string, mixed> */
    private function look(): array
    {
        $this->looked = true;
        $this->patient->rests(TrainerLimits::LOOK_S);

        return $this->patient->inspection;
    }

    /** @return array{} */
    private function wait(float $hours): array
    {
        if ($hours <= 0.0 || $hours > TrainerLimits::WAIT_H) {
            throw new InVain(sprintf('Wait longer than nothing and no longer than %.0f hours at a time.', TrainerLimits::WAIT_H));
        }
        $this->patient->rests(3600 * $hours);

        return [];
    }

    /** @return array{} */
    private function plug(bool $in): array
    {
        if ($this->patient->plugged === $in) {
            throw new InVain($in ? 'The sense plug is in.' : 'The sense plug is out.');
        }
        $this->patient->rests(TrainerLimits::PLUG_S);
        $this->patient->plugged = $in;
        $in ? $this->working?->plugged() : $this->happened('sense-unplugged', null);

        return [];
    }

    /** @return array{v: float, resolution_v: float} */
    private function read(Fields $act, Luck $luck): array
    {
        $from = $this->point((string) $act->string('from'));
        $to = $this->point((string) $act->string('to'));
        if ($act->string('from') === $act->string('to')) {
            throw new InVain('Both probes are on one point: name two.');
        }
        $this->patient->rests(TrainerLimits::READ_S);
        // A probe slips to the tap beside it; what the meter shows then is written down all the same.
        if ($to['tap'] !== null && $luck->happens(TrainerLimits::SLIPS[$this->level])) {
            $other = $to['tap'] + ($luck->happens(self::EITHER) ? 1 : -1);
            $to = $other >= 0 && $other <= $this->patient->spec->series ? ['tap' => $other, 'v' => $this->patient->tapV($other)] : $to;
        }
        $shown = $this->meter->shows($to['v'] - $from['v'], $luck);
        $this->note((string) $act->string('from'), (string) $act->string('to'), $shown);
        $below = preg_match('/^T(\d+)$/', (string) $act->string('from'), $m) === 1 ? (int) $m[1] : null;
        if ($below !== null && $act->string('to') === 'T' . ($below + 1)) {
            $this->working?->read($below + 1, $shown['v']);
        }

        return $shown;
    }

    /** @return array{tap: int|null, v: float} volts of a point against B- */
    private function point(string $name): array
    {
        if (preg_match('/^T(\d+)$/', $name, $m) === 1 && (int) $m[1] <= $this->patient->spec->series) {
            return ['tap' => (int) $m[1], 'v' => $this->patient->tapV((int) $m[1])];
        }

        return match ($name) {
            'P-' => ['tap' => null, 'v' => 0.0],
            'P+' => ['tap' => null, 'v' => $this->patient->outputV()],
            default => throw new InVain(
                "This pack has no point $name: taps are T0 to T{$this->patient->spec->series}, terminals P- and P+.",
            ),
        };
    }

    /** @param  array{v: float, resolution_v: float}  $shown */
    private function note(string $from, string $to, array $shown): void
    {
        $p = $this->patient;
        $rested = $p->restedS / 60 >= $p->spec->chemistry->restMinutes();
        $key = ($rested ? 'rest' : 'relaxing') . ($p->plugged ? '' : ', unplugged');
        $last = count($this->sets) - 1;
        if ($last < 0 || $this->open['key'] !== $key || $p->clockS - $this->open['at'] > self::SET_S) {
            $this->open = ['key' => $key, 'at' => $p->clockS];
            $this->begin(
                ['condition' => $rested ? 'rest' : 'relaxing'] +
                    ($rested ? ['rested_min' => (int) ($p->restedS / 60)] : ['since_current_s' => (int) $p->restedS]) + ['current_a' => 0],
            );
            $last = count($this->sets) - 1;
        }
        // Read once more in the same sitting, the earlier one is corrected by it, as at the bench.
        $this->readings[$last] = [
            ...array_filter($this->readings[$last], fn(array $r): bool => $r['from'] !== $from || $r['to'] !== $to),
            ['from' => $from, 'to' => $to] + $shown + ['at_s' => (int) round($p->clockS - $this->open['at'])],
        ];
    }

    /** @var array{key: string, at: float} what the set that is open is of, and since when */
    private array $open = ['key' => '', 'at' => 0.0];

    /** @param  array<string, mixed>  $how */
    private function begin(array $how): void
    {
        $this->sets[] = ['id' => 'm' . (count($this->sets) + 1), 'at' => $this->now(), 'revision' => $this->revision] +
            $how + [
                'ambient_c' => self::AMBIENT_C,
                'sense_connected' => $this->patient->plugged,
                'instrument' => $this->meter->toArray(),
            ];
        $this->readings[] = [];
    }

    /** @return array{groups_v: list<float>|null, terminal_v: float, a: float, stopped_by: string|null} */
    private function current(float $amps, float $seconds, Luck $luck): array
    {
        $p = $this->patient;
        if ($amps === 0.0 || $seconds <= 0.0) {
            throw new InVain('Say how many amps, and for how long.');
        }
        $supplyV = $p->spec->workingFullV() * $p->spec->series;
        $p->rests(TrainerLimits::CLIPS_S);
        $before = $this->groups($luck);
        $went = $p->flows($amps, $seconds, $supplyV);
        $kind = $amps < 0 ? 'discharge' : 'charge';
        $this->open['key'] = '';
        if ($went['stopped_by'] !== null || abs($went['a']) < self::NO_A) {
            $groups = abs($went['ah']) > 0 ? $this->groups($luck) : $before;
            if ($amps > 0 || ($p->conducts() && ($went['ah'] !== 0.0 || is_finite($p->tripsA)))) {
                $this->keep($kind, [
                    'stopped_by' => 'bms',
                    'after_ah' => round(abs($went['ah']), 3),
                    'groups_v' => $groups,
                    'current_a' => round($amps, 2),
                ]);
            }

            return [
                'groups_v' => $groups,
                'terminal_v' => $this->meter->shows($p->outputV(), $luck)['v'],
                'a' => 0.0,
                'stopped_by' => abs($went['ah']) > 0 ? 'bms' : null,
            ];
        }
        $this->begin(['condition' => $kind, 'current_a' => round($went['a'], 2), 'since_current_s' => (int) round($went['seconds'])]);
        $last = count($this->sets) - 1;
        $groups = [];
        for ($k = 1; $k <= $p->spec->series; $k++) {
            $p->flows($amps, self::WALK_S, $supplyV);
            $shown = $this->meter->shows($p->across($k), $luck);
            $groups[] = $shown['v'];
            $this->readings[$last][] = ['from' => 'T' . ($k - 1), 'to' => "T$k"] + $shown + ['at_s' => $k * self::WALK_S];
        }
        $terminal = $this->meter->shows($p->outputV(), $luck);
        $this->readings[$last][] = ['from' => 'P-', 'to' => 'P+'] + $terminal + ['at_s' => $p->spec->series * self::WALK_S];
        // The switch is opened.
        $p->rests(1.0);

        return ['groups_v' => $groups, 'terminal_v' => $terminal['v'], 'a' => round($went['a'], 2), 'stopped_by' => null];
    }

    /** @return list<float> what a meter shows of every group now */
    private function groups(Luck $luck): array
    {
        return array_map(
            fn(int $k): float => $this->meter->shows($this->patient->across($k), $luck)['v'],
            range(1, $this->patient->spec->series),
        );
    }

    /** @return array<string, mixed> */
    private function test(Fields $asked, Luck $luck): array
    {
        $kind = (string) $asked->string('kind');
        $test = (new Outcome($this->patient, $this->meter, $luck))->of($asked);
        $this->patient->rests(60 * (Outcome::asTest($kind)?->minutes() ?? self::TEST_MIN));
        $this->open['key'] = '';
        $this->keep($kind, $test);

        return ['kind' => $kind] + $test;
    }

    /** @param  array<string, mixed>  $test */
    private function keep(string $kind, array $test): void
    {
        $this->tests[] = ['kind' => $kind, 'at' => $this->now(), 'revision' => $this->revision] + $test;
    }

    private function now(): string
    {
        return (new \DateTimeImmutable(self::BEGINS))
            ->modify('+' . (int) round($this->patient->clockS) . ' seconds')
            ->format('Y-m-d\TH:i:s\Z');
    }
}
