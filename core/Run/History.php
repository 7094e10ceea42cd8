<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;

/**
 * What was seen while current flowed, on a clock that counts seconds of current: a pause or a lost reading neither
 * restarts it nor moves it. Volts are kept less I * R.
 */
final class History
{
    /** Rows that are behind and kept before they are cut off. */
    private const ROWS = 2000;

    /** Rows closer together than this are one row. */
    private const THIN_S = 4.0;

    private float $clock = 0.0;

    /** How often the output has come on: volts of different times on have relaxed in between. */
    private int $epoch = 0;

    private int $head = 0;

    /** @var list<array{clock: float, epoch: int, v: float, a: float, c: float|null, groups: list<float|null>|null}> */
    private array $rows = [];

    /** @param  float  $keepS  seconds of current that are looked back on */
    public function __construct(private readonly float $keepS, private readonly float $ohm) {}

    public function cameOn(): void
    {
        $this->epoch++;
    }

    /** A rest that was part of the plan: what stood before it is no measure of what comes after. The clock goes on. */
    public function rested(): void
    {
        $this->rows = [];
        $this->head = 0;
    }

    /** @param  float  $dt  seconds of current since the last row */
    public function add(float $dt, Sample $s): void
    {
        $this->clock += $dt;
        if ($s->v === null || $s->a === null) {
            return;
        }
        $last = $this->rows === [] ? null : $this->rows[count($this->rows) - 1];
        if ($last !== null && $last['epoch'] === $this->epoch && $this->clock - $last['clock'] < self::THIN_S) {
            return;
        }
        $this->rows[] = [
            'clock' => $this->clock,
            'epoch' => $this->epoch,
            'v' => $s->v - $s->a * $this->ohm,
            'a' => $s->a,
            'c' => $s->c,
            'groups' => $s->groups,
        ];
        while ($this->rows[$this->head]['clock'] < $this->clock - $this->keepS - 60.0) {
            $this->head++;
        }
        if ($this->head > self::ROWS) {
            $this->rows = array_slice($this->rows, $this->head);
            $this->head = 0;
        }
    }

    /** Seconds of current so far. */
    public function seconds(): float
    {
        return $this->clock;
    }

    /**
     * The largest fall of volts, less I * R, within the last seconds of current at the current of now. What relaxed
     * while the output was off in between is allowed for.
     *
     * @param  int|null  $group  index of a watched group; null for the clips
     */
    public function fall(Sample $now, float $withinS, float $tolA, ?int $group = null): float
    {
        $a = (float) $now->a;
        $v = $group === null ? $now->v : $now->groups[$group] ?? null;
        if ($v === null) {
            return 0.0;
        }
        $v -= $group === null ? $a * $this->ohm : 0.0;
        $most = 0.0;
        for ($i = count($this->rows) - 1; $i >= $this->head; $i--) {
            $row = $this->rows[$i];
            if ($row['clock'] < $this->clock - $withinS - Tiny::SUM) {
                break;
            }
            $then = $group === null ? $row['v'] : $row['groups'][$group] ?? null;
            if ($then !== null && abs($row['a'] - $a) <= $tolA) {
                $relaxed = $row['epoch'] === $this->epoch ? 0.0 : RunLimits::RELAXES * abs($a) * $this->ohm;
                $most = max($most, $then - $v - $relaxed);
            }
        }

        return $most;
    }

    /** Volts, less I * R, that many seconds of current ago; null when current has not flowed for as long. */
    public function voltsBefore(float $seconds): ?float
    {
        $out = null;
        for ($i = $this->head, $n = count($this->rows); $i < $n && $this->rows[$i]['clock'] <= $this->clock - $seconds + Tiny::SUM; $i++) {
            $out = $this->rows[$i]['v'];
        }

        return $out;
    }

    /** Rise of temperature over its least within the last seconds of current. */
    public function warming(float $c, float $withinS): float
    {
        $least = $c;
        for ($i = count($this->rows) - 1; $i >= $this->head && $this->rows[$i]['clock'] >= $this->clock - $withinS - Tiny::SUM; $i--) {
            $least = min($least, $this->rows[$i]['c'] ?? $least);
        }

        return $c - $least;
    }
}
