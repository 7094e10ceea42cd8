<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

/** What is odd about a set of readings, where, how sure, and the one reading that would settle it. */
final readonly class Suspicion
{
    /**
     * @param  string  $kind  closure | closure-tie | same-value | swapped-step | impossible | sign
     * @param  list<NetworkReading>  $readings  one when named, several when they cannot be told apart
     * @param  array{from: int, to: int}|null  $settle
     * @param  list<int>  $groups  groups whose voltage rests on it
     */
    public function __construct(
        public string $kind,
        public array $readings,
        public string $text,
        public ?array $settle,
        public float $probability,
        public array $groups = [],
        public ?int $tap = null,
    ) {}

    public function settleText(): string
    {
        return $this->settle === null ? '' : "Read T{$this->settle['from']} to T{$this->settle['to']}.";
    }
}
