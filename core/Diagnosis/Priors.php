<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

/**
 * How often packs fail in which way: the handbook's shares as a Dirichlet prior worth so many jobs, moved by what the
 * workshop's own closed jobs turned out to be.
 */
final readonly class Priors
{
    /** The handbook's shares weigh as much as this many closed jobs. */
    public const WORTH = 40.0;

    /** @param  array<string, int>  $counts closed jobs by the code they turned out to be; codes unknown here are ignored */
    private function __construct(private array $counts)
    {
    }

    public static function handbook(): self
    {
        return new self([]);
    }

    /** @param  array<string, int>  $counts */
    public static function from(array $counts): self
    {
        return new self(array_filter($counts, fn (int $n): bool => $n > 0));
    }

    public function isDefault(): bool
    {
        return $this->counts === [];
    }

    /** "default", or what moved it: goes into the verdict and its hash. */
    public function name(): string
    {
        $counts = $this->counts;
        ksort($counts);

        return $counts === [] ? 'default' : 'shop: '.implode(', ', array_map(fn (string $code, int $n): string => "$code $n", array_keys($counts), $counts));
    }

    /** Share of a faulty group's prior. */
    public function share(GroupState $state): float
    {
        $total = $mine = 0.0;
        foreach (GroupState::cases() as $s) {
            $weight = self::WORTH * $s->share() + ($s === GroupState::Ok ? 0 : $this->counts[$s->value] ?? 0);
            $total += $weight;
            $mine = $s === $state ? $weight : $mine;
        }

        return $mine / $total;
    }

    /** @return list<array{code: string, handbook: float, here: float, jobs: int}> for the person who wants to see them */
    public function table(): array
    {
        return array_values(array_map(fn (GroupState $s): array => [
            'code' => $s->value, 'handbook' => round($s->share() / $this->handbookTotal(), 3), 'here' => round($this->share($s), 3), 'jobs' => $this->counts[$s->value] ?? 0,
        ], array_filter(GroupState::cases(), fn (GroupState $s): bool => $s !== GroupState::Ok)));
    }

    private function handbookTotal(): float
    {
        return array_sum(array_map(fn (GroupState $s): float => $s->share(), GroupState::cases()));
    }
}
