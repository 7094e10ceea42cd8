<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Reading\LiveCheck;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\PackSpec;

/**
 * What is kept of a closed job so that it can be played again: its pack without a name, what was said of it, what it was in the end,
 * and the volts at which its groups stood. Nobody's name, no photo, no note.
 */
final readonly class Told
{
    /** What a job that does not say it is taken to have: amp-hours and milliohm of a cell, amps out and in of one (assumed). */
    private const CELL = [
        'capacity_ah' => 2.5,
        'resistance_mohm' => 35.0,
        'max_continuous_a' => Parts::CELL_A,
        'max_charge_a' => Parts::CELL_CHARGE_A,
    ];

    /** Of a pack so much goes into a round: nothing by which anybody could tell whose it is. */
    private const FACTS = ['chemistry', 'series', 'parallel', 'cell', 'bms', 'load', 'charger'];

    /** The least level of a round that is told: a job of the shop is no first exercise. */
    private const LEVEL = 2;

    /**
     * @param  array<string, mixed>  $facts  of the pack, as the record has them
     * @param  list<string>  $symptoms
     * @param  list<array{ailment: Ailment, at: int|null}>  $truth  the group or tap where it sits at one
     * @param  list<float|null>  $restV  of the groups from B-, as they were read first; null where nobody read
     */
    private function __construct(private array $facts, public array $symptoms, public array $truth, private array $restV) {}

    /**
     * @param  array<string, mixed>  $record  a heartwood.job
     * @param  list<array{code: string, where?: array<string, int|string>|null}>|null  $truth  what it was; null where nobody said
     *
     * @throws InvalidRecord where it cannot be played, with why
     */
    public static function of(array $record, ?array $truth): self
    {
        if ($truth === null) {
            throw new InvalidRecord([['pointer' => '/truth', 'message' => 'Nobody said what it was in the end: say so, then it teaches.']]);
        }
        $job = JobRecord::fromArray($record);
        $ailments = [];
        foreach ($truth as $t) {
            if ($t['code'] === Attempt::PROTECTING) {
                continue;
            }
            $at = (int) (array_values($t['where'] ?? [])[0] ?? 0);
            $ailments[] = ['ailment' => self::ailment($t['code'], $at, $job->pack), 'at' => $at === 0 ? null : $at];
        }
        $pack = (array) $record['pack'];

        // Of each part its figures, and no word that somebody wrote.
        $figures = fn(mixed $part): mixed => is_array($part)
            ? array_filter($part, fn(mixed $v): bool => is_int($v) || is_float($v) || is_bool($v))
            : $part;

        return new self(
            array_map($figures, array_intersect_key($pack, array_fill_keys(self::FACTS, 1))),
            $job->symptoms,
            $ailments,
            self::first($record, $job->pack->series),
        );
    }

    /**
     * @param  array<string, mixed>  $record
     * @return list<float|null> volts of the groups as they were read first, at rest and before anything was altered
     */
    private static function first(array $record, int $series): array
    {
        $volts = array_fill(0, $series, null);
        foreach ((new Fields($record))->objects('measurements') as $m) {
            if ($m->string('condition') !== 'rest' || ($m->int('revision') ?? 1) !== 1 || $m->string('source') === 'bms-report') {
                continue;
            }
            $seen = LiveCheck::of(JobRecord::fromArray(['measurements' => [$m->all()], 'tests' => [], 'revision' => 1] + $record));
            foreach ($seen['groups'] as $i => $g) {
                $volts[$i] ??= is_float($g['v']) ? $g['v'] : null;
            }
        }

        return array_values($volts);
    }

    /** @param  int  $at  0 where no place was said */
    private static function ailment(string $code, int $at, PackSpec $pack): Ailment
    {
        $ailment = Ailment::tryFrom($code);
        $title = isset(Faults::all()[$code]) ? Faults::of($code)->words()->anywhere() : $code;
        $why = match (true) {
            $ailment === null => "\"$title\" cannot be run on a simulated pack.",
            ($ailment->isAtGroup() || $ailment === Ailment::Joint) && $at === 0 => "\"$title\": the job does not say where.",
            $at > $pack->series || ($ailment === Ailment::Joint && $at >= $pack->series) => "\"$title\": this pack has no place $at.",
            ($pack->parallel ?? 1) < $ailment->parallel()
                => "\"$title\" wants {$ailment->parallel()} cells side by side; the job's pack has " .
                ($pack->parallel ?? 'no number of them') .
                '.',
            default => null,
        };
        if ($ailment === null || $why !== null) {
            throw new InvalidRecord([['pointer' => '/truth', 'message' => (string) $why]]);
        }

        return $ailment;
    }

    /** @return array<string, mixed> the pack of the round, by another name, what the job did not say filled in */
    public function pack(string $name): array
    {
        $of = new Fields($this->facts);
        $spec = PackSpec::from($of);
        $parallel = $spec->parallel ?? 1;
        $cellAh = $spec->cell->float('capacity_ah') ?? self::CELL['capacity_ah'];
        $around = Parts::around($spec->chemistry, $spec->series, $parallel, $cellAh);

        return [
            'name' => $name,
            'kind' => 'other',
            'chemistry' => $spec->chemistry->value,
            'series' => $spec->series,
            'parallel' => $parallel,
            'cell' => array_intersect_key($of->object('cell')->all() + self::CELL, self::CELL),
            'bms' => array_diff_key($of->object('bms')->all(), ['series' => 1]) + $around['bms'],
            'load' => $of->object('load')->all() + $around['load'],
            'charger' => $around['charger'],
        ];
    }

    public function level(): int
    {
        return max([self::LEVEL, ...array_map(fn(array $t): int => $t['ailment']->level(), $this->truth)]);
    }

    /** Each group is put where it stood when it was read first. */
    public function stand(Patient $p): void
    {
        foreach ($this->restV as $i => $v) {
            if ($v === null) {
                continue;
            }
            $p->offsetV[$i + 1] = 0.0;
            isset($p->fixedV[$i + 1]) ? ($p->fixedV[$i + 1] = $v) : $p->stands($i + 1, $v);
        }
    }

    /** @return array<string, mixed> as it is kept */
    public function toArray(): array
    {
        return [
            'pack' => $this->facts,
            'symptoms' => $this->symptoms,
            'truth' => array_map(fn(array $t): array => ['code' => $t['ailment']->value, 'at' => $t['at']], $this->truth),
            'rest_v' => $this->restV,
        ];
    }

    /** @param  Fields  $kept  what toArray gave */
    public static function from(Fields $kept): self
    {
        return new self(
            $kept->object('pack')->all(),
            $kept->strings('symptoms'),
            array_map(
                fn(Fields $t): array => ['ailment' => Ailment::from((string) $t->string('code')), 'at' => $t->int('at')],
                $kept->objects('truth'),
            ),
            $kept->numbers('rest_v'),
        );
    }
}
