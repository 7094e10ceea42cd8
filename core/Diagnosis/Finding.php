<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Record\Place;

/** Something that is, with a probability, wrong (or worth saying), where, and why. */
final readonly class Finding
{
    /** From this probability up a finding is listed. */
    public const LISTED = VerdictLimits::LISTED;

    /** @param  list<Evidence>  $evidence */
    public function __construct(
        public string $code,
        public string $title,
        public Place $place,
        public float $probability,
        public Severity $severity,
        public array $evidence,
    ) {}

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'code' => $this->code,
            'title' => $this->title,
            'where' => $this->place->toArray(),
            'probability' => round(min(0.999, max(0.0, $this->probability)), 3),
            'severity' => $this->severity->value,
            'evidence' => array_map(fn(Evidence $e): array => $e->toArray(), $this->evidence),
        ];
    }
}
