<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Fault\Family;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Faults;

/**
 * How often packs fail in which way: the shares of every family as a Dirichlet prior worth so many jobs, moved by what
 * the workshop's own closed jobs turned out to be.
 */
final readonly class Priors
{
    /** The handbook's shares of a family weigh as much as this many closed jobs. */
    public const WORTH = 40.0;

    /** @param  array<string, int>  $counts closed jobs by the code they turned out to be; codes unknown here are ignored */
    private function __construct(private array $counts) {}

    public static function handbook(): self
    {
        return new self([]);
    }

    /** @param  array<string, int>  $counts */
    public static function from(array $counts): self
    {
        return new self(array_filter($counts, fn(int $n): bool => $n > 0));
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

        return $counts === []
            ? 'default'
            : 'shop: ' . implode(', ', array_map(fn(string $code, int $n): string => "$code $n", array_keys($counts), $counts));
    }

    /** How often a pack has this fault: its family's share of packs times its share of the family. */
    public function cause(string $code): float
    {
        return $this->family(Faults::of($code)->family()) * $this->share($code);
    }

    /** Share of a fault within its family, as the workshop's jobs move it; 0 where it has none. */
    public function share(string $code): float
    {
        $fault = Faults::of($code);
        $total = $mine = 0.0;
        foreach (self::members($fault->family()) as $c => $member) {
            $weight = self::WORTH * $member->share() + ($this->counts[$c] ?? 0);
            $total += $weight;
            $mine = $c === $code ? $weight : $mine;
        }

        return $mine / max(1e-9, $total);
    }

    /** Share of packs whose fault is of a family, as the workshop's jobs move it. */
    public function family(Family $family): float
    {
        if ($this->counts === []) {
            return $family->prior();
        }
        $total = $mine = 0.0;
        foreach (Family::cases() as $f) {
            $jobs = array_sum(array_intersect_key($this->counts, self::members($f)));
            $weight = self::WORTH * $f->prior() + $jobs;
            $total += $weight;
            $mine = $f === $family ? $weight : $mine;
        }

        // A tenth of all packs has no fault, whatever the others share among them.
        return (array_sum(array_map(fn(Family $f): float => $f->prior(), Family::cases())) * $mine) / max(1e-9, $total);
    }

    /** @return array<string, Fault> by code: those with a prior of their own */
    private static function members(Family $family): array
    {
        /** @var array<string, array<string, Fault>> $of */
        static $of = [];

        return $of[$family->value] ??= array_filter(Faults::all(), fn(Fault $f): bool => $f->family() === $family && $f->share() > 0.0);
    }

    /** @return list<array{code: string, handbook: float, here: float, jobs: int}> for the person who wants to see them */
    public function table(): array
    {
        $out = [];
        $handbook = self::handbook();
        foreach (Family::cases() as $family) {
            foreach (array_keys(self::members($family)) as $code) {
                $out[] = [
                    'code' => $code,
                    'handbook' => round($handbook->cause($code), 3),
                    'here' => round($this->cause($code), 3),
                    'jobs' => $this->counts[$code] ?? 0,
                ];
            }
        }

        return $out;
    }
}
