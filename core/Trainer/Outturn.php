<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Limits\TrainerLimits;
use Heartwood\Core\Proof\Acceptance;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Proof\CheckResult;
use Heartwood\Core\Record\JobRecord;

/** What came of a choice as it was carried out: what the pack gives now, what it is rid of, and what was proved before it went back. */
final readonly class Outturn
{
    /** What readings and tests of a round can prove; the rest of handbook "Acceptance" wants the real device and board. */
    public const CHECKS = [Check::Taper, Check::FinishedVoltage, Check::Spread, Check::Hold, Check::LoadTest, Check::Capacity];

    /**
     * @param  list<CheckResult>  $checks  of CHECKS, on the pack as it is now
     * @param  list<array{code: string, where: array<string, int>|null}>  $left  what was wrong with it and is still
     */
    private function __construct(
        public float $usableAh,
        public float $cost,
        public int $minutes,
        public int $seconds,
        public int $supplies,
        public ?bool $returned,
        public array $checks,
        public array $left,
    ) {}

    /** @param  int  $seconds  that the work took by the clock of the bench */
    public static function of(Round $round, int $seconds, ?bool $returned): self
    {
        $p = $round->patient;
        $working = $round->working;
        $minutes = $working->minutes ?? 0;
        $alive = $p->isAlive();

        return new self(
            $alive ? round($p->givesAh(), 2) : 0.0,
            round((($working->cents ?? 0) + ($minutes * TrainerLimits::HOUR_CENTS) / 60) / 100, 2),
            $minutes,
            $seconds,
            $working->good ?? 0,
            $returned,
            self::checks($round),
            self::left($p),
        );
    }

    /** @return list<CheckResult> of CHECKS, as far as they have been measured on the pack as it is now */
    public static function checks(Round $round): array
    {
        return array_values(
            array_filter(
                (new Acceptance(JobRecord::fromArray($round->record()), []))->results(),
                fn(CheckResult $r): bool => in_array($r->check, self::CHECKS, true),
            ),
        );
    }

    /**
     * @param  list<CheckResult>  $checks
     * @return list<array{code: string, title: string, status: string, found: string, limit: string}>
     */
    public static function told(array $checks): array
    {
        return array_map(
            fn(CheckResult $r): array => [
                'code' => $r->check->value,
                'title' => $r->check->title(),
                'status' => $r->status,
                'found' => $r->found,
                'limit' => $r->limit,
            ],
            $checks,
        );
    }

    /** @return list<array{code: string, where: array<string, int>|null}> */
    private static function left(Patient $p): array
    {
        $left = [];
        foreach ($p->truth as $t) {
            $gone =
                $t['code'] === Attempt::PROTECTING
                    ? $p->isAlive()
                    : Ailment::from($t['code'])->isGone($p, $t['where'] === null ? null : array_values($t['where'])[0]);
            if (!$gone) {
                $left[] = $t;
            }
        }

        return $left;
    }

    /** Whether it went back with everything proved that a round can prove. */
    public function isProved(): bool
    {
        return $this->returned === true && array_filter($this->checks, fn(CheckResult $r): bool => $r->status !== 'passed') === [];
    }

    /**
     * @return array{usable_ah: float, cost: float, minutes: int, seconds: int, supplies: int, returned: bool|null, proved: bool,
     *   checks: list<array{code: string, title: string, status: string, found: string, limit: string}>,
     *   left: list<array{code: string, where: array<string, int>|null}>}
     */
    public function toArray(): array
    {
        return [
            'usable_ah' => $this->usableAh,
            'cost' => $this->cost,
            'minutes' => $this->minutes,
            'seconds' => $this->seconds,
            'supplies' => $this->supplies,
            'returned' => $this->returned,
            'proved' => $this->isProved(),
            'checks' => self::told($this->checks),
            'left' => $this->left,
        ];
    }
}
