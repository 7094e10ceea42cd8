<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

/** What a run hands to its view. */
final readonly class RunFacts
{
    /**
     * @param  array{v: float, ah: float}|null  $start  where the phase that drives began
     * @param  list<array{at: float, text: string}>  $log
     */
    public function __construct(
        public Phase $phase,
        public Phase $working,
        public ?string $paused,
        public bool $clipped,
        public float $startedAt,
        public float $phaseAt,
        public float $lastT,
        public ?float $v,
        public ?float $a,
        public ?float $c,
        public float $ah,
        public float $gapAh,
        public ?float $mostAh,
        public ?float $lasts,
        public float $ambientC,
        public float $ambientAt,
        public ?float $lastWholeAt,
        public History $history,
        public Prover $prover,
        public ?Sample $last,
        public ?AfterStop $after,
        public bool $trial,
        public array $log,
        public float $confirmedAt,
        public ?array $start,
    ) {}
}
