<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Reading\GroupVoltage;
use Heartwood\Core\Reading\NetworkReading;
use Heartwood\Core\Reading\NetworkSolution;
use Heartwood\Core\Reading\ReadingNetwork;
use Heartwood\Core\Record\Condition;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Measurement;

/** The record turned into features: what each group shows at rest, under current, over days and in tests. */
final class PackEvidence
{
    /** Rest sets this close together are one set: a rested pack does not move in an hour. */
    private const SAME_SITTING_S = 3600;

    /** How far rest voltages of equally charged phosphate groups stray on the plateau by their history. */
    private const PLATEAU_SIGMA_V = 0.005;

    /** What two equal rest voltages on the plateau say of the charge between them, 1 sigma as a fraction: little. */
    private const PLATEAU_SIGMA = 0.07;

    /** From 20 mV apart on the plateau a difference of charge is large; towards it equal voltages stop saying little. */
    private const PLATEAU_APART_V = 0.015;

    /** Volts over the others after the current has stopped from which a group counts as fuller. */
    private const STAYS_V = 0.012;

    /** Own uncertainty of the rest curve's slope, as a share of a difference of charge. */
    private const SLOPE_SIGMA = 0.25;

    /** Error of the rest curve between two states of charge, 1 sigma, as a fraction of charge. */
    private const CURVE_SIGMA = 0.015;

    /** Spread of capacity among healthy groups, 1 sigma, as a fraction. */
    private const CAPACITY_SIGMA = 0.03;

    /** How far groups that were left empty together may be apart, volts: the curve is steep down there. */
    private const ALIKE_V = 0.25;

    /** Share of a joint's excess resistance that may be left when it counts as cured. */
    private const CURED = 0.35;

    public readonly RestCurve $curve;

    /** @var list<GroupEvidence> */
    public array $groups = [];

    /** Latest rest voltages, from the meter or, failing that, the board. */
    public ?NetworkSolution $rest = null;

    public bool $restFromBoard = false;

    public bool $relaxing = false;

    /** @var list<NetworkSolution> */
    public array $solutions = [];

    /** @var array<string, NetworkSolution> by measurement */
    private array $solvedSets = [];

    /** Every group under the board's low cut and all alike: the pack was left empty, no group fell by itself. */
    public bool $lowTogether = false;

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

    /** The board's own report at rest, beside the meter's readings. */
    public ?NetworkSolution $boardRest = null;

    /** @var array<int, array{float, float}> groups that sink with the sense plug in and not with it out: fraction a day in, out */
    public array $bleeding = [];

    public float $unpluggedDays = 0.0;

    /** @var array<int, float> kelvin over ambient by joint (its tap), while current flowed */
    public array $jointHeat = [];

    /** @var array<int, bool> joints whose drop was measured: true when it is far too large */
    public array $jointDrop = [];

    /** @var array<int, array{float, float}> joints re-tightened between two sets under current: excess mohm before and after */
    public array $retightened = [];

    /** @var list<int> joints re-tightened and not read under current since */
    public array $unreadJoints = [];

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
        (new TestEvidence($this))->read();
    }

    /** @return list<array{solution: NetworkSolution, at: ?\DateTimeImmutable, board: bool, first: Measurement}> rest sittings by time */
    private function sittings(): array
    {
        $sittings = [];
        $rested = array_filter($this->record->current(), fn (Measurement $m): bool => $m->isRest() && $this->network($m) !== []) !== [];
        foreach ($this->record->current() as $m) {
            // A pack that was never read at rest is judged by what was read while it relaxed, with a wider sigma.
            if (! $m->isRest() && ($rested || $m->condition !== Condition::Relaxing)) {
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

    /** Whether a set was taken before the groups had come to rest. */
    private function relaxes(Measurement $m): bool
    {
        return $m->condition === Condition::Relaxing || ($m->restedMin !== null && $m->restedMin < $this->record->pack->chemistry->restMinutes());
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

    /** One set by itself, groups allowed to stand above full while charge flows. */
    public function solved(Measurement $m): NetworkSolution
    {
        return $this->solvedSets[$m->id] ??= ReadingNetwork::solve($this->network($m), $this->record->pack->series, $this->record->pack->profile()->fullV + 0.3);
    }

    /** @param  list<array{solution: NetworkSolution, at: ?\DateTimeImmutable, board: bool, first: Measurement}>  $sittings */
    private function readRest(array $sittings): void
    {
        $meter = array_values(array_filter($sittings, fn (array $s): bool => ! $s['board'] && $s['solution']->read() !== []));
        $board = array_values(array_filter($sittings, fn (array $s): bool => $s['board']));
        $this->boardRest = $board === [] ? null : $board[count($board) - 1]['solution'];
        $use = $meter !== [] ? $meter[count($meter) - 1] : ($sittings[count($sittings) - 1] ?? null);
        if ($use === null) {
            return;
        }
        $this->rest = $use['solution'];
        $this->restFromBoard = $use['board'];
        $this->relaxing = $this->relaxes($use['first']);
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
        $all = array_map(fn (GroupVoltage $g): float => (float) $g->volts, $this->rest->read());
        $this->lowTogether = count($all) >= 3 && min($all) > 0.0 && max($all) < $this->record->pack->lowCutV() && max($all) - min($all) < self::ALIKE_V;
        if ($plausible === []) {
            return;
        }
        // Of two, the median points at neither: the fuller one stands for what the other should hold.
        $this->middleV = count($plausible) === 2 ? max($plausible) : Robust::median($plausible);
        $this->middleCharge = $this->chargeAt($this->middleV);
        foreach ($this->rest->read() as $g) {
            $e = $this->groups[$g->group - 1];
            $v = (float) $g->volts;
            if ($v < $this->curve->emptyV() - 0.15) {
                continue;
            }
            $charge = $this->chargeAt($v) - $this->middleCharge;
            $sigmaV = Robust::quadrature($g->ownSigmaV, $this->curve->onPlateau($v) ? self::PLATEAU_SIGMA_V : 0.002, $extra / 2);
            $e->charge = $charge;
            $e->chargeSigma = max($sigmaV / $this->secant($v, $this->middleV), $this->curve->onPlateau($v) ? self::PLATEAU_SIGMA * max(0.0, 1 - abs($v - $this->middleV) / self::PLATEAU_APART_V) : 0.0);
        }
    }

    /** State of charge that goes on past full: a group over the top of the curve is fuller than one at its top. */
    private function chargeAt(float $volts): float
    {
        $over = $volts - $this->curve->topV();

        return $over <= 0.0 ? $this->curve->socAt($volts) : 1.0 + $over / max(0.8, $this->curve->slope(1.0));
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
        // A stretch that ends with the sense plug out tells of the cells alone; the others of cells and board together.
        $out = [];
        $certain = false;
        for ($i = 1; $i < count($timed); $i++) {
            if ($timed[$i]['first']->senseConnected === false) {
                $out = $this->leaks($timed[$i - 1], $timed[$i]);
                $this->unpluggedDays = self::days($timed[$i - 1], $timed[$i]);
                $certain = $certain || $timed[$i - 1]['first']->senseConnected === false || $this->unpluggedAfter($timed[$i - 1]['at']);
            }
        }
        $in = $this->clearest($out === [] ? $timed : array_values(array_filter($timed, fn (array $s): bool => $s['first']->senseConnected !== false)));
        foreach ($out as $k => $cells) {
            $board = $in[$k] ?? null;
            if ($board !== null && 3 * hypot($board['noise'], $cells['noise']) < $board['rate'] - $cells['rate'] && $board['rate'] > 0.003 && $cells['rate'] < 0.4 * $board['rate']) {
                $this->bleeding[$k] = [$board['rate'], max(0.0, $cells['rate'])];
            }
        }
        if ($out !== [] && ! $certain && $this->bleeding === []) {
            // The plug was out when the set was read; nothing says that it was out before.
            [$out, $this->unpluggedDays, $in] = [[], 0.0, $this->clearest($timed)];
        }
        foreach ($out === [] ? $in : $out as $k => $leak) {
            $e = $this->groups[$k - 1];
            $e->leakPerDay = $leak['rate'];
            $e->leakSigma = $leak['sigma'];
            $e->leakNoise = $leak['noise'];
            $e->leakDays = $leak['days'];
            $e->throughput = $leak['through'];
            $e->fellMv = $leak['fell'];
            $e->othersFellMv = $leak['others'];
            $this->leakDays = max($this->leakDays, $leak['days']);
        }
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
        for ($i = 0; $i < count($sittings) - 1; $i++) {
            for ($j = $i + 1; $j < count($sittings); $j++) {
                foreach ($this->leaks($sittings[$i], $sittings[$j]) as $k => $leak) {
                    $b = $leak['noise'] + self::CAPACITY_SIGMA * abs($leak['through']);
                    if (! isset($best[$k]) || $b < $blur[$k] * (1 - 1e-6)) {
                        [$best[$k], $blur[$k]] = [$leak, $b];
                    }
                }
            }
        }

        return $best;
    }

    private function unpluggedAfter(?\DateTimeImmutable $from): bool
    {
        foreach ($this->record->events as $event) {
            if ($event->string('kind') === 'sense-unplugged' && $from !== null && $event->string('at') !== null && new \DateTimeImmutable($event->string('at')) >= $from) {
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
        foreach ($this->groups as $e) {
            $va = $a['solution']->group($e->group)->volts;
            $vb = $b['solution']->group($e->group)->volts;
            if ($va !== null && $vb !== null && $va > $this->curve->emptyV() - 0.15 && ! $this->touchedBetween($a['at'], $b['at'], $e->group)) {
                $falls[$e->group] = $this->curve->socAt($va) - $this->curve->socAt($vb);
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
            $sigmaV = hypot($a['solution']->group($k)->ownSigmaV, $b['solution']->group($k)->ownSigmaV) + 0.0015 + ($this->relaxes($a['first']) || $this->relaxes($b['first']) ? 0.008 : 0.0);
            // The curve's own error cancels only while the pack stays where it is.
            $moved = self::CURVE_SIGMA * (1 - exp(-abs($median) / 0.05));
            $noise = hypot($sigmaV / $this->secant($va, $vb), $moved);
            $out[$k] = [
                'rate' => ($fall - $median) / $days,
                'noise' => $noise / $days,
                'sigma' => hypot($noise, self::SLOPE_SIGMA * ($fall - $median)) / $days,
                'days' => $days, 'through' => $median / $days, 'fell' => $drops[$k] * 1000, 'others' => $medianDrop * 1000,
            ];
        }

        return $out;
    }

    /**
     * Days after a rest reading from which a leak of 10 % a month stands out by 2 sigma with this meter at this charge;
     * on the flat part of phosphate that is months, and a refill test tells sooner.
     */
    public function leakReadyDays(): ?float
    {
        if ($this->rest === null || $this->middleV === null) {
            return null;
        }
        $sigmas = array_map(fn (GroupVoltage $g): float => $g->ownSigmaV, $this->rest->read());
        $sigma = sqrt(2.0) * ($sigmas === [] ? 0.001 : Robust::median($sigmas)) + 0.0015;

        return max(0.25, 2 * $sigma / $this->secant($this->middleV, $this->middleV) / (0.10 / 30));
    }

    /**
     * A run of groups at one end, lower than all the others and level among themselves.
     *
     * @return array{int, int, float}|null first group, last group, how much lower as a fraction of charge
     */
    public function lowEnd(): ?array
    {
        $n = count($this->groups);
        $charge = [];
        foreach ($this->groups as $e) {
            if ($e->charge === null) {
                return null;
            }
            $charge[] = $e->charge;
        }
        foreach ([false, true] as $top) {
            $c = $top ? array_reverse($charge) : $charge;
            for ($m = 2; $m <= intdiv($n, 2); $m++) {
                $low = array_slice($c, 0, $m);
                $rest = array_slice($c, $m);
                if ($n < 5 || $rest === []) {
                    continue;
                }
                $gap = min($rest) - max($low);
                if ($gap > 0.03 && max($low) - min($low) < 0.5 * ($gap + 0.02) && max($rest) - min($rest) < 0.6 * ($gap + 0.03)) {
                    return $top ? [$n - $m + 1, $n, $gap] : [1, $m, $gap];
                }
            }
        }

        return null;
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
            $solution = $this->solved($m);
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
                // A nearly full group shoots up on charge and would pass for resistance: what stays when the current
                // stops is charge, only what vanishes at once is resistance.
                $d = (float) $g->volts - $median;
                $steep = $m->currentA > 0 && $g->volts > ($this->record->pack->chemistry->isPhosphate() ? 3.40 : $this->record->pack->profile()->fullV);
                $stays = $this->relaxed($m, $g->group);
                if ($stays !== null && $stays > self::STAYS_V && $m->currentA > 0) {
                    // Steep: on the rise at the end of charge even the part that vanishes is no measure of resistance.
                    continue;
                }
                if ($stays !== null && $m->currentA > 0) {
                    $points[$g->group][] = [$m->currentA, $d - $stays + $this->restDeviation($g->group), hypot($g->ownSigmaV, 0.003), $m->at];
                } elseif (! $steep && $g->doubt === null) {
                    $points[$g->group][] = [$m->currentA, $d, hypot($g->ownSigmaV, 0.002), $m->at];
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
            $atRest = [0.0, $g->volts - $this->middleV, hypot($g->ownSigmaV, 0.002)];
            [$r, $sigma] = self::slope([...$this->stillValid($k, $list, $atRest, $healthy / 1000), $atRest]);
            $e = $this->groups[$k - 1];
            $e->resistanceMohm = $r * 1000;
            $e->resistance = $r * 1000 / $healthy;
            $e->resistanceSigma = hypot($sigma * 1000 / $healthy, 0.05);
        }
    }

    /**
     * The readings that tell of group $k's resistance as it was found: when a joint beside it was re-tightened in
     * between, those before, and what changed speaks for or against that joint.
     *
     * @param  non-empty-list<array{float, float, float, ?\DateTimeImmutable}>  $points
     * @param  array{float, float, float}  $atRest
     * @return non-empty-list<array{float, float, float, ?\DateTimeImmutable}>
     */
    private function stillValid(int $k, array $points, array $atRest, float $healthyOhm): array
    {
        foreach ($this->record->events as $event) {
            $tap = $event->object('where')->int('joint') ?? $event->object('where')->int('tap');
            $at = $event->string('at');
            if ($event->string('kind') !== 'retightened' || $at === null || ($tap !== $k && $tap !== $k - 1)) {
                continue;
            }
            $when = new \DateTimeImmutable($at);
            $before = array_values(array_filter($points, fn (array $p): bool => $p[3] !== null && $p[3] < $when));
            $after = array_values(array_filter($points, fn (array $p): bool => $p[3] !== null && $p[3] >= $when));
            if ($before === []) {
                continue;
            }
            [$was, $sigma] = self::slope([...$before, $atRest]);
            if ($was < 0.2 * $healthyOhm || $was < 3 * $sigma) {
                continue;
            }
            if ($after === []) {
                $this->unreadJoints[] = $tap;

                continue;
            }
            [$is] = self::slope([...$after, $atRest]);
            $cured = $is < self::CURED * $was;
            $this->jointDrop[$tap] ??= $cured;
            if ($cured) {
                $this->retightened[$tap] = [1000 * $was, 1000 * $is];

                return $before;
            }
        }

        return $points;
    }

    /** How far a group still strays from the median in a relaxing set taken after $m; null without one. */
    private function relaxed(Measurement $m, int $group): ?float
    {
        foreach ($this->record->current() as $r) {
            if ($r->condition !== Condition::Relaxing || $r->at === null || $m->at === null || $r->at < $m->at || $r->at->getTimestamp() - $m->at->getTimestamp() > 7200) {
                continue;
            }
            $solution = $this->solved($r);
            $v = $solution->group($group)->volts;
            $all = array_map(fn (GroupVoltage $x): float => (float) $x->volts, $solution->read());
            if ($v === null || count($all) < 2) {
                continue;
            }
            $d = $v - Robust::median($all);
            $this->groups[$group - 1]->staysAtTop = $d;

            return $d;
        }

        return null;
    }

    private function restDeviation(int $group): float
    {
        $v = $this->rest?->group($group)->volts;

        return $v === null || $this->middleV === null ? 0.0 : $v - $this->middleV;
    }

    /**
     * Weighted straight line through (amps, volts, sigma).
     *
     * @param  list<array{0: float, 1: float, 2: float, 3?: ?\DateTimeImmutable}>  $points  at least two different currents
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

    /** Whether the pack lay where neither cold nor heat gives a board a reason; true while nobody wrote the temperature. */
    public function temperate(): bool
    {
        $ambient = null;
        foreach ($this->record->current() as $m) {
            $ambient = $m->ambientC ?? $ambient;
        }

        return $ambient === null || ($ambient > 5.0 && $ambient < 40.0);
    }

    private function readTerminals(): void
    {
        foreach ($this->record->current() as $m) {
            $this->boardFlags = $m->flags !== [] ? $m->flags : $this->boardFlags;
            foreach ($m->readings as $r) {
                $volts = $r->from[0] === 'P' && $r->from === 'P+' || $r->from === 'C+' ? -$r->volts : $r->volts;
                if ($r->isOutput() && $m->condition === Condition::Rest) {
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
                $joint = $t->object('where')->int('joint') ?? $t->object('where')->int('tap');
                if ($joint !== null && ($c = $t->float('c')) !== null && $m->ambientC !== null && abs($m->currentA) > 0.5) {
                    $this->jointHeat[$joint] = max($this->jointHeat[$joint] ?? 0.0, $c - $m->ambientC);
                }
            }
        }
    }
}
