<?php

declare(strict_types=1);

namespace Heartwood\Core\Record;

/** The evidence of one job: format heartwood.job, version 1. */
final readonly class JobRecord
{
    /**
     * @param  list<string>  $symptoms
     * @param  list<Measurement>  $measurements
     * @param  list<BenchTest>  $tests
     * @param  list<Fields>  $events
     */
    public function __construct(
        public PackSpec $pack,
        public array $symptoms,
        public Fields $inspection,
        public int $revision,
        public array $measurements,
        public array $tests,
        public array $events,
    ) {}

    /** The same pack with one set of readings and nothing else. */
    public function only(Measurement $m): self
    {
        return new self($this->pack, [], $this->inspection, $this->revision, [$m], [], []);
    }

    /**
     * Reads a record that the schema has passed and checks what a schema cannot.
     *
     * @param  array<array-key, mixed>  $data
     *
     * @throws InvalidRecord
     */
    public static function fromArray(array $data): self
    {
        $f = new Fields($data);
        $problems = [];
        $pack = PackSpec::from($f->object('pack'));
        $blocks = $f->object('pack')->numbers('blocks');
        if ($blocks !== [] && (int) array_sum($blocks) !== $pack->series) {
            $problems[] = [
                'pointer' => '/pack/blocks',
                'message' =>
                    'the blocks add up to ' . (int) array_sum($blocks) . " groups, the pack has {$pack->series}: correct one of the two",
            ];
        }
        $measurements = $seen = [];
        foreach ($f->objects('measurements') as $i => $m) {
            $measurement = Measurement::from($m, $i);
            if (isset($seen[$measurement->id])) {
                $problems[] = [
                    'pointer' => "/measurements/$i/id",
                    'message' => "the id '{$measurement->id}' is used twice: give each set its own",
                ];
            }
            $seen[$measurement->id] = true;
            $measurements[] = $measurement;
            foreach ($measurement->readings as $reading) {
                foreach (['from' => $reading->from, 'to' => $reading->to] as $end => $name) {
                    $tap = Reading::tap($name);
                    if ($tap !== null && $tap > $pack->series) {
                        $problems[] = [
                            'pointer' => "{$reading->pointer}/$end",
                            'message' => "tap $name does not exist: the pack has taps T0 to T{$pack->series}",
                        ];
                    }
                }
                if ($reading->from === $reading->to) {
                    $problems[] = [
                        'pointer' => "{$reading->pointer}/to",
                        'message' => 'both probes are on ' . $reading->to . ': name two different points',
                    ];
                }
            }
            foreach ($measurement->temperatures as $j => $t) {
                self::checkPlace(Place::from($t->object('where')), $pack->series, "/measurements/$i/temperatures/$j/where", $problems);
            }
        }
        $tests = [];
        foreach ($f->objects('tests') as $i => $t) {
            $test = BenchTest::from($t);
            self::checkPlace($test->place, $pack->series, "/tests/$i/" . ($t->has('scope') ? 'scope' : 'where'), $problems);
            if (count($t->numbers('groups_v')) > $pack->series) {
                $problems[] = ['pointer' => "/tests/$i/groups_v", 'message' => "more groups than the pack's {$pack->series}"];
            }
            $tests[] = $test;
        }
        foreach ($f->objects('events') as $i => $event) {
            self::checkPlace(Place::from($event->object('where')), $pack->series, "/events/$i/where", $problems);
        }
        if ($problems !== []) {
            throw new InvalidRecord($problems);
        }
        $revision =
            $f->int('revision') ??
            array_reduce([...$measurements, ...$tests], fn(int $max, Measurement|BenchTest $e): int => max($max, $e->revision), 1);

        return new self($pack, $f->strings('symptoms'), $f->object('inspection'), $revision, $measurements, $tests, $f->objects('events'));
    }

    /** @return list<Measurement> sets of the pack as it is now, in the order of time where times are given */
    public function current(): array
    {
        $sets = array_values(array_filter($this->measurements, fn(Measurement $m): bool => $m->revision === $this->revision));
        usort(
            $sets,
            fn(Measurement $a, Measurement $b): int => [$a->at?->getTimestamp() ?? 0, $a->pointer] <=> [
                $b->at?->getTimestamp() ?? 0,
                $b->pointer,
            ],
        );

        return $sets;
    }

    /** @return list<BenchTest> tests of the pack as it is now */
    public function currentTests(?string $kind = null): array
    {
        return array_values(
            array_filter(
                $this->tests,
                fn(BenchTest $t): bool => $t->revision === $this->revision && ($kind === null || $t->kind === $kind),
            ),
        );
    }

    public function says(string ...$symptoms): bool
    {
        return array_intersect($symptoms, $this->symptoms) !== [];
    }

    /** @param  list<array{pointer: string, message: string}>  $problems */
    private static function checkPlace(Place $place, int $series, string $pointer, array &$problems): void
    {
        $low = $place->kind === 'group' ? 1 : 0;
        if (in_array($place->kind, ['group', 'tap', 'joint'], true) && ($place->number < $low || $place->number > $series)) {
            $problems[] = [
                'pointer' => "$pointer/{$place->kind}",
                'message' => "{$place->kind} {$place->number} does not exist: the pack has {$place->kind}s $low to $series",
            ];
        }
    }
}
