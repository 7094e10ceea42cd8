<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Limits\DriftLimits;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Reading\NetworkSolution;
use Heartwood\Core\Record\Measurement;

/** Rest sets days apart turned into what each group loses by itself (handbook "Self-discharge"). */
final readonly class LeakEvidence
{
    /** Own uncertainty of the rest curve's slope, as a share of a difference of charge. */
    private const SLOPE_SIGMA = 0.25;

    /** Error of the rest curve between two states of charge, 1 sigma, as a fraction of charge. */
    private const CURVE_SIGMA = 0.015;

    /** Spread of capacity among healthy groups, 1 sigma, as a fraction. */
    private const CAPACITY_SIGMA = 0.03;

    /** Sittings at rest that are compared each with each (assumed: a pack is seldom read at rest more often). */
    private const MOST_COMPARED = 40;

    public function __construct(private EvidenceDraft $pack) {}

    /**
     * Leak from the first and the last rest sitting, less the median group's (handbook "Self-discharge").
     *
     * @param  list<array{solution: NetworkSolution, at: ?\DateTimeImmutable, board: bool, first: Measurement}>  $sittings
     */
    public function read(array $sittings): void
    {
        $timed = array_values(array_filter($sittings, fn(array $s): bool => $s['at'] !== null && !$s['board']));
        if (count($timed) < 2) {
            // The board's own reports, when nobody read twice with a meter.
            $timed = array_values(array_filter($sittings, fn(array $s): bool => $s['at'] !== null && $s['board']));
        }
        if (count($timed) < 2) {
            return;
        }
        // A stretch that ends with the sense plug out tells of the cells alone; the others of cells and board together.
        $out = [];
        $certain = false;
        for ($i = 1; $i < count($timed); $i++) {
            if ($this->plugOut($timed[$i]['first'])) {
                $out = $this->leaks($timed[$i - 1], $timed[$i]);
                $this->pack->unpluggedDays = self::days($timed[$i - 1], $timed[$i]);
                $certain = $certain || $this->plugOut($timed[$i - 1]['first']) || $this->unpluggedAfter($timed[$i - 1]['at']);
            }
        }
        $in = $this->clearest(
            $out === [] ? $timed : array_values(array_filter($timed, fn(array $s): bool => !$this->plugOut($s['first']))),
        );
        foreach ($out as $k => $cells) {
            $board = $in[$k] ?? null;
            if (
                $board !== null &&
                3 * hypot($board['noise'], $cells['noise']) < $board['rate'] - $cells['rate'] &&
                $board['rate'] > 0.003 &&
                $cells['rate'] < 0.4 * $board['rate']
            ) {
                $this->pack->bleeding[$k] = [$board['rate'], max(0.0, $cells['rate'])];
            }
        }
        if (count($this->pack->bleeding) >= 2) {
            // Several at one end, evenly: the board feeds from there; one alone is its balance switch.
            $sunk = array_keys($this->pack->bleeding);
            sort($sunk);
            $n = count($this->pack->groups);
            if ($sunk === range($sunk[0], $sunk[0] + count($sunk) - 1) && ($sunk[0] === 1 || end($sunk) === $n)) {
                $this->pack->drainByPlug = true;
                $this->pack->drainRun = [
                    $sunk[0],
                    end($sunk),
                    Robust::median(array_map(fn(array $b): float => $b[0], array_values($this->pack->bleeding))) *
                    self::days($timed[0], $timed[count($timed) - 1]),
                ];
                $this->pack->bleeding = [];
            }
        } elseif ($out !== [] && $certain && $this->pack->bleeding === []) {
            $this->pack->drainByPlug = false;
        }
        if ($out !== [] && !$certain && $this->pack->bleeding === [] && $this->pack->drainByPlug === null) {
            // The plug was out when the set was read; nothing says that it was out before.
            [$out, $this->pack->unpluggedDays, $in] = [[], 0.0, $this->clearest($timed)];
        }
        $grew = $this->grew(self::telling($timed));
        foreach ($out === [] ? $in : $out as $k => $leak) {
            $e = $this->pack->groups[$k - 1];
            $e->leakGrew = isset($grew[$k]);
            $e->leakPerDay = $leak['rate'];
            $e->leakSigma = $leak['sigma'];
            $e->leakNoise = $leak['noise'];
            $e->leakDays = $leak['days'];
            $e->throughput = $leak['through'];
            $e->fellMv = $leak['fell'];
            $e->othersFellMv = $leak['others'];
            $this->pack->leakDays = max($this->pack->leakDays, $leak['days']);
        }
    }

    /**
     * Groups that leaked more in a stretch than in one before it, by more than both can be wrong.
     *
     * @param  list<array{solution: NetworkSolution, at: ?\DateTimeImmutable, board: bool, first: Measurement}>  $sittings
     * @return array<int, true>
     */
    private function grew(array $sittings): array
    {
        $before = $grew = [];
        for ($i = 1; $i < count($sittings); $i++) {
            foreach ($this->leaks($sittings[$i - 1], $sittings[$i]) as $k => $leak) {
                foreach ($before[$k] ?? [] as $b) {
                    if ($leak['rate'] - $b['rate'] > DriftLimits::TOPUP_SIGMAS * hypot($leak['sigma'], $b['sigma'])) {
                        $grew[$k] = true;
                    }
                }
                $before[$k][] = $leak;
            }
        }

        return $grew;
    }

    /**
     * Each group's clearest stretch in which nobody charged it: long, and little charge through the pack in between.
     *
     * @param  list<array{solution: NetworkSolution, at: ?\DateTimeImmutable, board: bool, first: Measurement}>  $sittings
     * @return array<int, array{rate: float, noise: float, sigma: float, days: float, through: float, fell: float, others: float}>
     */
    private function clearest(array $sittings): array
    {
        $best = $blur = [];
        $sittings = self::telling($sittings);
        for ($i = 0; $i < count($sittings) - 1; $i++) {
            for ($j = $i + 1; $j < count($sittings); $j++) {
                foreach ($this->leaks($sittings[$i], $sittings[$j]) as $k => $leak) {
                    $b = $leak['noise'] + self::CAPACITY_SIGMA * abs($leak['through']);
                    if (!isset($best[$k]) || $b < $blur[$k] * (1 - 1e-6)) {
                        [$best[$k], $blur[$k]] = [$leak, $b];
                    }
                }
            }
        }

        return $best;
    }

    /**
     * A long history has few stretches that tell: the longest between one sitting and the next. Their ends are compared
     * with one another, the first and the last of all among them, so that time grows with the history and not with its square.
     *
     * @template T of array{at: ?\DateTimeImmutable}
     *
     * @param  list<T>  $sittings  by time
     * @return list<T>
     */
    private static function telling(array $sittings): array
    {
        $n = count($sittings);
        if ($n <= self::MOST_COMPARED) {
            return $sittings;
        }
        $gaps = [];
        for ($i = 1; $i < $n; $i++) {
            $gaps[$i] = self::days($sittings[$i - 1], $sittings[$i]);
        }
        arsort($gaps);
        $ends = [0 => true, $n - 1 => true];
        foreach (array_keys($gaps) as $i) {
            if (count($ends + [$i - 1 => true, $i => true]) > self::MOST_COMPARED) {
                break;
            }
            $ends += [$i - 1 => true, $i => true];
        }
        ksort($ends);

        return array_map(fn(int $i): array => $sittings[$i], array_keys($ends));
    }

    /** Whether a set was read with the sense plug out: as its own word says, or, where it says nothing, after the plug was pulled. */
    private function plugOut(Measurement $m): bool
    {
        if ($m->senseConnected !== null || $m->at === null || $m->fromBoard) {
            return $m->senseConnected === false;
        }
        $pulled = $this->pack->lastEvent('sense-unplugged');
        // A board that was changed since has its plug in again.
        $again = $this->pack->lastEvent('board-replaced');

        return $pulled !== null && $pulled <= $m->at && ($again === null || $again < $pulled || $again > $m->at);
    }

    private function unpluggedAfter(?\DateTimeImmutable $from): bool
    {
        foreach ($this->pack->record->events as $event) {
            if (
                $event->string('kind') === 'sense-unplugged' &&
                $from !== null &&
                $event->string('at') !== null &&
                new \DateTimeImmutable($event->string('at')) >= $from
            ) {
                return true;
            }
        }

        return false;
    }

    /**
     * @param  array{at: ?\DateTimeImmutable}  $a
     * @param  array{at: ?\DateTimeImmutable}  $b
     */
    private static function days(array $a, array $b): float
    {
        return $a['at'] === null || $b['at'] === null ? 0.0 : ($b['at']->getTimestamp() - $a['at']->getTimestamp()) / 86400;
    }

    /**
     * Leak of each group between two sittings, fraction of capacity a day, less the median group's; and the charge that
     * went through the whole pack in the same time, which a smaller group feels more.
     *
     * @param  array{solution: NetworkSolution, at: ?\DateTimeImmutable, board: bool, first: Measurement}  $a
     * @param  array{solution: NetworkSolution, at: ?\DateTimeImmutable, board: bool, first: Measurement}  $b
     * @return array<int, array{rate: float, noise: float, sigma: float, days: float, through: float, fell: float, others: float}>
     */
    private function leaks(array $a, array $b): array
    {
        $days = self::days($a, $b);
        if ($days < 0.1) {
            return [];
        }
        $falls = $drops = [];
        $touched = $this->pack->touchedBetween($a['at'], $b['at'], null);
        foreach ($this->pack->groups as $e) {
            $va = $a['solution']->group($e->group)->volts;
            $vb = $b['solution']->group($e->group)->volts;
            if ($va !== null && $vb !== null && ($this->pack->curve->onPlateau($va) || $this->pack->curve->onPlateau($vb))) {
                // On the flat part millivolts are hysteresis: no leak from voltage at all.
                $this->pack->fellOnPlateau[$e->group] = max($this->pack->fellOnPlateau[$e->group] ?? -INF, $va - $vb);

                continue;
            }
            if (
                $va !== null &&
                $vb !== null &&
                $va > $this->pack->curve->emptyV() - 0.15 &&
                !($touched && $this->pack->touchedBetween($a['at'], $b['at'], $e->group))
            ) {
                $falls[$e->group] = $this->pack->curve->socAt($va) - $this->pack->curve->socAt($vb);
                $drops[$e->group] = $va - $vb;
            }
        }
        if (count($falls) < 2 || $drops === []) {
            return [];
        }
        $median = Robust::median(array_values($falls));
        $medianDrop = Robust::median(array_values($drops));
        $out = [];
        foreach ($falls as $k => $fall) {
            $va = (float) $a['solution']->group($k)->volts;
            $vb = (float) $b['solution']->group($k)->volts;
            $sigmaV =
                hypot($a['solution']->group($k)->ownSigmaV, $b['solution']->group($k)->ownSigmaV) +
                0.0015 +
                ($this->pack->relaxes($a['first']) || $this->pack->relaxes($b['first']) ? 0.008 : 0.0);
            // The curve's own error cancels only while the pack stays where it is.
            $moved = self::CURVE_SIGMA * (1 - exp(-abs($median) / 0.05));
            $noise = hypot($sigmaV / $this->pack->secant($va, $vb), $moved);
            $out[$k] = [
                'rate' => ($fall - $median) / $days,
                'noise' => $noise / $days,
                'sigma' => hypot($noise, self::SLOPE_SIGMA * ($fall - $median)) / $days,
                'days' => $days,
                'through' => $median / $days,
                'fell' => $drops[$k] * 1000,
                'others' => $medianDrop * 1000,
            ];
        }

        return $out;
    }
}
