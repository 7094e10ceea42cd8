<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Reading\NetworkReading;
use Heartwood\Core\Reading\NetworkSolution;
use Heartwood\Core\Reading\ReadingNetwork;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Measurement;

/** The record turned into features: what each group shows at rest, under current, over days and in tests. */
final class PackEvidence
{
    /** Rest sets this close together are one set: a rested pack does not move in an hour. */
    private const SAME_SITTING_S = 3600;

    /** Own uncertainty of the rest curve's slope, as a share of a difference of charge. */
    private const SLOPE_SIGMA = 0.25;

    public readonly RestCurve $curve;

    /** @var list<GroupEvidence> */
    public array $groups = [];

    /** Latest rest voltages, from the meter or, failing that, the board. */
    public ?NetworkSolution $rest = null;

    public bool $restFromBoard = false;

    public bool $relaxing = false;

    /** @var list<NetworkSolution> */
    public array $solutions = [];

    public ?float $middleCharge = null;

    public ?float $middleV = null;

    /** Ratio of the median group's measured resistance to what its cells promise, once currents were read. */
    public ?float $middleResistanceMohm = null;

    public bool $underLoad = false;

    public bool $onCharge = false;

    public float $leakDays = 0.0;

    public ?float $outputV = null;

    public ?string $outputInput = null;

    public ?float $outputLowImpedanceV = null;

    public ?float $portV = null;

    /** @var list<string> */
    public array $boardFlags = [];

    public function __construct(public readonly JobRecord $record)
    {
        $this->curve = RestCurve::of($record->pack->chemistry);
        for ($k = 1; $k <= $record->pack->series; $k++) {
            $this->groups[] = new GroupEvidence($k);
        }
        $sittings = $this->sittings();
        $this->readRest($sittings);
        $this->readLeak($sittings);
        $this->readCurrents();
        $this->readTerminals();
        $this->readTests();
    }

    /** @return list<array{solution: NetworkSolution, at: ?\DateTimeImmutable, board: bool, first: Measurement}> rest sittings by time */
    private function sittings(): array
    {
        $sittings = [];
        foreach ($this->record->current() as $m) {
            if (! $m->isRest()) {
                continue;
            }
            $readings = $this->network($m);
            if ($readings === []) {
                continue;
            }
            $last = array_key_last($sittings);
            $near = $last !== null && $sittings[$last]['board'] === $m->fromBoard && $m->at !== null && $sittings[$last]['at'] !== null
                && $m->at->getTimestamp() - $sittings[$last]['at']->getTimestamp() <= self::SAME_SITTING_S
                && ! $this->touchedBetween($sittings[$last]['at'], $m->at, null);
            $joined = $near ? $this->joined($sittings[$last]['readings'], $readings) : null;
            if ($near && $joined !== null) {
                $sittings[$last]['readings'] = $joined;
            } else {
                $sittings[] = ['readings' => $readings, 'at' => $m->at, 'board' => $m->fromBoard, 'first' => $m];
            }
        }

        return array_map(function (array $s): array {
            $solution = ReadingNetwork::solve($s['readings'], $this->record->pack->series, $this->record->pack->profile()->fullV);
            $this->solutions[] = $solution;

            return ['solution' => $solution, 'at' => $s['at'], 'board' => $s['board'], 'first' => $s['first']];
        }, $sittings);
    }

    /**
     * Two sets of one sitting as one. A pair read again replaces the older reading; when a whole set reads otherwise
     * the pack itself has changed in between: null.
     *
     * @param  list<NetworkReading>  $old
     * @param  list<NetworkReading>  $new
     * @return list<NetworkReading>|null
     */
    private function joined(array $old, array $new): ?array
    {
        $differ = [];
        foreach ($old as $i => $a) {
            foreach ($new as $b) {
                if ($a->from === $b->from && $a->to === $b->to && abs($a->volts - $b->volts) > 0.005 + 4 * hypot($a->sigmaV, $b->sigmaV)) {
                    $differ[$i] = true;
                }
            }
        }
        if ($differ !== [] && 2 * count($new) >= $this->record->pack->series) {
            return null;
        }

        return [...array_values(array_diff_key($old, $differ)), ...$new];
    }

    /** @return list<NetworkReading> */
    private function network(Measurement $m): array
    {
        $out = [];
        foreach ($m->readings as $reading) {
            if ($reading->isBetweenTaps()) {
                $out[] = NetworkReading::of($reading, $m->instrument, $m->fromBoard);
            }
        }

        return $out;
    }

    /** @param  list<array{solution: NetworkSolution, at: ?\DateTimeImmutable, board: bool, first: Measurement}>  $sittings */
    private function readRest(array $sittings): void
    {
        $meter = array_values(array_filter($sittings, fn (array $s): bool => ! $s['board'] && $s['solution']->read() !== []));
        $use = $meter !== [] ? $meter[count($meter) - 1] : ($sittings[count($sittings) - 1] ?? null);
        if ($use === null) {
            return;
        }
        $this->rest = $use['solution'];
        $this->restFromBoard = $use['board'];
        $rested = $use['first']->restedMin;
        $this->relaxing = $rested !== null && $rested < $this->record->pack->chemistry->restMinutes();
        $extra = $this->relaxing ? 0.015 : 0.0;
        $plausible = [];
        foreach ($this->rest->read() as $g) {
            $e = $this->groups[$g->group - 1];
            $e->restV = $g->volts;
            $e->restSigmaV = hypot((float) $g->sigmaV, $extra);
            $e->across = $g->across;
            $e->doubt = $g->doubt;
            $e->doubtProbability = $g->doubtProbability;
            if ($g->doubt === null && $g->volts > $this->record->pack->lowCutV() && $g->volts < $this->record->pack->profile()->fullV + 0.1) {
                $plausible[] = (float) $g->volts;
            }
        }
        if ($plausible === []) {
            return;
        }
        $this->middleV = Robust::median($plausible);
        $this->middleCharge = $this->curve->socAt($this->middleV);
        foreach ($this->rest->read() as $g) {
            $e = $this->groups[$g->group - 1];
            $v = (float) $g->volts;
            if ($v < $this->curve->emptyV() - 0.15) {
                continue;
            }
            $charge = $this->curve->socAt($v) - $this->middleCharge;
            $sigmaV = Robust::quadrature($g->ownSigmaV, 0.002, $extra / 2);
            $e->charge = $charge;
            $e->chargeSigma = hypot($sigmaV / $this->secant($v, $this->middleV), self::SLOPE_SIGMA * $charge);
        }
    }

    /** Volts per unit of charge between two rest voltages, the local slope when they are close. */
    private function secant(float $a, float $b): float
    {
        $sa = $this->curve->socAt(max($this->curve->emptyV(), min($a, $b) - 0.004));
        $sb = $this->curve->socAt(min($this->curve->topV(), max($a, $b) + 0.004));

        return max(0.02, ($this->curve->volts($sb) - $this->curve->volts($sa)) / max(1e-4, $sb - $sa));
    }

    /**
     * Leak from the first and the last rest sitting, less the median group's (handbook "Self-discharge").
     *
     * @param  list<array{solution: NetworkSolution, at: ?\DateTimeImmutable, board: bool, first: Measurement}>  $sittings
     */
    private function readLeak(array $sittings): void
    {
        $timed = array_values(array_filter($sittings, fn (array $s): bool => $s['at'] !== null && ! $s['board']));
        if (count($timed) < 2) {
            return;
        }
        $a = $timed[0];
        $b = $timed[count($timed) - 1];
        $days = ($b['at']->getTimestamp() - $a['at']->getTimestamp()) / 86400;
        if ($days < 0.1) {
            return;
        }
        $this->leakDays = $days;
        $falls = $drops = [];
        foreach ($this->groups as $e) {
            $va = $a['solution']->group($e->group)->volts;
            $vb = $b['solution']->group($e->group)->volts;
            if ($va !== null && $vb !== null && $va > $this->curve->emptyV() - 0.15 && ! $this->touchedBetween($a['at'], $b['at'], $e->group)) {
                $falls[$e->group] = $this->curve->socAt($va) - $this->curve->socAt($vb);
                $drops[$e->group] = $va - $vb;
            }
        }
        if (count($falls) < 2 || $drops === []) {
            return;
        }
        $median = Robust::median(array_values($falls));
        $medianDrop = Robust::median(array_values($drops));
        foreach ($falls as $k => $fall) {
            $e = $this->groups[$k - 1];
            $va = (float) $a['solution']->group($k)->volts;
            $vb = (float) $b['solution']->group($k)->volts;
            $sigmaV = hypot($a['solution']->group($k)->ownSigmaV, $b['solution']->group($k)->ownSigmaV) + 0.0015;
            $e->leakPerDay = ($fall - $median) / $days;
            $e->leakSigma = hypot($sigmaV / $this->secant($va, $vb), self::SLOPE_SIGMA * ($fall - $median)) / $days;
            $e->leakDays = $days;
            $e->fellMv = $drops[$k] * 1000;
            $e->othersFellMv = $medianDrop * 1000;
        }
    }

    private function touchedBetween(?\DateTimeImmutable $from, ?\DateTimeImmutable $to, ?int $group): bool
    {
        foreach ($this->record->events as $event) {
            $at = $event->string('at');
            if ($at === null || $from === null || $to === null || ! in_array($event->string('kind'), ['group-charged', 'balanced'], true)) {
                continue;
            }
            $time = new \DateTimeImmutable($at);
            $where = $event->object('where')->int('group');
            if ($time >= $from && $time <= $to && ($group === null || $where === null || $where === $group)) {
                return true;
            }
        }

        return false;
    }

    /** Excess resistance from every set with current: d(I) = a + r I (handbook "Joint or cell resistance from current"). */
    private function readCurrents(): void
    {
        $points = [];
        $middles = [];
        $rest = $this->rest;
        foreach ($this->record->current() as $m) {
            if (! $m->underCurrent() || $m->fromBoard) {
                continue;
            }
            $solution = ReadingNetwork::solve($this->network($m), $this->record->pack->series, $this->record->pack->profile()->fullV + 0.3);
            $read = $solution->read();
            if (count($read) < 2) {
                continue;
            }
            $this->solutions[] = $solution;
            $this->underLoad = $this->underLoad || $m->currentA < 0;
            $this->onCharge = $this->onCharge || $m->currentA > 0;
            $median = Robust::median(array_map(fn ($g): float => (float) $g->volts, $read));
            if ($this->middleV !== null) {
                $middles[] = ($median - $this->middleV) / $m->currentA * 1000;
            }
            foreach ($read as $g) {
                // A nearly full phosphate group shoots up on charge and would pass for resistance.
                $steep = $this->record->pack->chemistry->isPhosphate() && $m->currentA > 0 && $g->volts > 3.42;
                if (! $steep && $g->doubt === null) {
                    $points[$g->group][] = [$m->currentA, (float) $g->volts - $median, hypot($g->ownSigmaV, 0.002)];
                }
            }
        }
        if ($points === [] || $rest === null || $this->middleV === null) {
            return;
        }
        $this->middleResistanceMohm = $middles === [] ? null : max(0.1, Robust::median($middles));
        $healthy = max($this->record->pack->groupResistanceMohm(), $this->middleResistanceMohm ?? 0.0);
        foreach ($points as $k => $list) {
            $g = $rest->group($k);
            if ($g->volts === null || $g->doubt !== null) {
                continue;
            }
            $list[] = [0.0, $g->volts - $this->middleV, hypot($g->ownSigmaV, 0.002)];
            [$r, $sigma] = self::slope($list);
            $e = $this->groups[$k - 1];
            $e->resistanceMohm = $r * 1000;
            $e->resistance = $r * 1000 / $healthy;
            $e->resistanceSigma = hypot($sigma * 1000 / $healthy, 0.05);
        }
    }

    /**
     * Weighted straight line through (amps, volts, sigma).
     *
     * @param  list<array{float, float, float}>  $points  at least two different currents
     * @return array{float, float} ohms and 1 sigma
     */
    private static function slope(array $points): array
    {
        $w = $x = $y = $xx = $xy = 0.0;
        foreach ($points as [$i, $d, $sigma]) {
            $weight = 1 / ($sigma * $sigma);
            $w += $weight;
            $x += $weight * $i;
            $y += $weight * $d;
            $xx += $weight * $i * $i;
            $xy += $weight * $i * $d;
        }
        $det = $w * $xx - $x * $x;
        if ($det <= 1e-9) {
            return [0.0, 1.0];
        }

        return [($w * $xy - $x * $y) / $det, sqrt($w / $det)];
    }

    private function readTerminals(): void
    {
        foreach ($this->record->current() as $m) {
            $this->boardFlags = $m->flags !== [] ? $m->flags : $this->boardFlags;
            foreach ($m->readings as $r) {
                $volts = $r->from[0] === 'P' && $r->from === 'P+' || $r->from === 'C+' ? -$r->volts : $r->volts;
                if ($r->isOutput() && $m->condition === \Heartwood\Core\Record\Condition::Rest) {
                    if ($m->instrument->input === 'low') {
                        $this->outputLowImpedanceV = $volts;
                    } else {
                        $this->outputV = $volts;
                        $this->outputInput = $m->instrument->input;
                    }
                } elseif ($r->isChargePort()) {
                    $this->portV = $volts;
                }
            }
            foreach ($m->temperatures as $t) {
                $joint = Fields::of($t->has('where') ? ['joint' => $t->object('where')->int('joint')] : [])->int('joint');
                if ($joint !== null && ($c = $t->float('c')) !== null && $m->ambientC !== null) {
                    foreach ([$joint, $joint + 1] as $k) {
                        if ($k >= 1 && $k <= count($this->groups)) {
                            $this->groups[$k - 1]->jointHeatK = max($this->groups[$k - 1]->jointHeatK, $c - $m->ambientC);
                        }
                    }
                }
            }
        }
    }

    private function readTests(): void
    {
        $capacities = [];
        foreach ($this->record->currentTests() as $t) {
            $k = $t->place->kind === 'group' ? $t->place->number : null;
            if ($k === null) {
                continue;
            }
            $e = $this->groups[$k - 1];
            match ($t->kind) {
                'capacity' => $capacities[$k] = ['ah' => (float) $t->data->float('measured_ah'), 'valid' => $t->data->bool('started_full') !== false],
                'tug-weld' => $e->tugLoose = $t->data->bool('loose'),
                'strip-millivolt' => $e->stripDead = self::deadStrip($t->data->numbers('cells_mv'), $t->data->float('current_a') ?? 0.0),
                'recovery' => $e->recovery = RecoveryResponse::judge($t->data, $this->record->pack),
                default => null,
            };
        }
        if ($capacities === []) {
            return;
        }
        $rated = $this->record->pack->groupCapacityAh();
        $all = array_map(fn (array $c): float => $c['ah'], array_values($capacities));
        $reference = count($all) >= 3 ? Robust::median($all) : ($rated ?? max($all));
        if ($rated !== null && $reference < 0.8 * $rated) {
            $reference = $rated;
        }
        foreach ($capacities as $k => $c) {
            $e = $this->groups[$k - 1];
            $e->capacityAh = $c['ah'];
            $e->capacity = $c['ah'] / max(1e-6, $reference);
            $e->capacitySigma = $c['valid'] ? 0.02 : 0.15;
        }
    }

    /**
     * Whether one strip carries far less than its share under load.
     *
     * @param  list<float|null>  $millivolts
     */
    private static function deadStrip(array $millivolts, float $current): ?bool
    {
        $read = array_values(array_filter(array_map(fn (?float $v): ?float => $v === null ? null : abs($v), $millivolts), fn (?float $v): bool => $v !== null));
        if (count($read) < 2 || abs($current) < 0.5) {
            return null;
        }

        return min($read) < 0.2 * Robust::median($read);
    }
}
