<?php

declare(strict_types=1);

namespace Heartwood\Core\Record;

use Heartwood\Core\Limits\VerdictLimits;

/** A set of readings taken under one condition. Current in amps, positive into the pack. */
final readonly class Measurement
{
    /**
     * @param  list<Reading>  $readings
     * @param  list<string>  $flags
     * @param  list<Fields>  $temperatures  each `where` and `c`
     */
    public function __construct(
        public string $id,
        public ?\DateTimeImmutable $at,
        public int $revision,
        public Condition $condition,
        public ?float $restedMin,
        public float $currentA,
        public ?float $ambientC,
        public ?bool $senseConnected,
        public bool $fromBoard,
        public Instrument $instrument,
        public array $readings,
        public array $flags,
        public array $temperatures,
        public string $pointer,
        public ?float $highestV = null,
        public ?float $lowestV = null,
    ) {}

    public static function from(Fields $m, int $index): self
    {
        $pointer = "/measurements/$index";
        $readings = [];
        foreach ($m->objects('readings') as $i => $r) {
            $readings[] = new Reading(
                (string) $r->string('from'),
                (string) $r->string('to'),
                (float) $r->float('v'),
                $r->float('resolution_v'),
                $r->float('at_s'),
                "$pointer/readings/$i",
            );
        }
        $condition = Condition::from($m->string('condition') ?? 'rest');

        return new self(
            $m->string('id') ?? "m$index",
            ($at = $m->string('at')) !== null ? new \DateTimeImmutable($at) : null,
            $m->int('revision') ?? 1,
            $condition,
            $m->float('rested_min'),
            $m->float('current_a') ?? 0.0,
            $m->float('ambient_c'),
            $m->bool('sense_connected'),
            // What the pack's own display tells its owner is the board's figure, not a meter's.
            in_array($m->string('source'), ['bms-report', 'owner'], true),
            Instrument::from($m->object('instrument')),
            $readings,
            $m->strings('flags'),
            $m->objects('temperatures'),
            $pointer,
            $m->float('highest_v'),
            $m->float('lowest_v'),
        );
    }

    public function isRest(): bool
    {
        return $this->condition === Condition::Rest && abs($this->currentA) < VerdictLimits::REST_A;
    }

    public function underCurrent(): bool
    {
        return abs($this->currentA) >= VerdictLimits::REST_A && $this->condition !== Condition::Relaxing;
    }
}
