<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Reading\Drift;
use Heartwood\Core\Reading\GroupVoltage;
use Heartwood\Core\Reading\NetworkReading;
use Heartwood\Core\Reading\NetworkSolution;
use Heartwood\Core\Reading\ReadingNetwork;
use Heartwood\Core\Record\Condition;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Measurement;
use Heartwood\Core\Record\Reading;

/** What readers write to while evidence is assembled; `PackEvidence` is what comes of it. */
final class EvidenceDraft
{
    /** Rest sets this close together are one set: a rested pack does not move in an hour. */
    private const SAME_SITTING_S = 3600;

    /** How far rest voltages of equally charged phosphate groups stray on the plateau by their history. */
    private const PLATEAU_SIGMA_V = 0.005;

    /** What two equal rest voltages on the plateau say of the charge between them, 1 sigma as a fraction: little. */
    private const PLATEAU_SIGMA = 0.07;

    /** From 20 mV apart on the plateau a difference of charge is large; towards it equal voltages stop saying little. */
    private const PLATEAU_APART_V = 0.015;

    /** How far groups that were left empty together may be apart, volts: the curve is steep down there. */
    private const ALIKE_V = 0.25;

    /** Kelvin over ambient from which a joint under current is hot. */
    public const JOINT_HOT_K = 8.0;

    public readonly RestCurve $curve;

    /** @var list<GroupDraft> */
    public array $groups = [];

    /** Latest rest voltages, from the meter or, failing that, the board. */
    public ?NetworkSolution $rest = null;

    /** @var list<array{solution: NetworkSolution, at: ?\DateTimeImmutable}> every set at rest of the same source, by time */
    public array $restSets = [];

    public bool $restFromBoard = false;

    /** The highest and the lowest group by themselves, where that is the latest that was read at rest. */
    public ?Extremes $extremes = null;

    public bool $relaxing = false;

    /** @var list<NetworkSolution> */
    public array $solutions = [];

    /** @var array<string, NetworkSolution> by measurement */
    private array $solvedSets = [];

    /** @var array<string, list<NetworkReading>> by measurement */
    private array $networks = [];

    /** @var array<string, NetworkSolution> sets that were a sitting by themselves */
    private array $alone = [];

    /** @var array<string, ?\DateTimeImmutable> by kind */
    private array $lastEvents = [];

    /** @var list<array{at: float, group: ?int}>|null when groups were charged by themselves; no group: all of them */
    private ?array $touches = null;

    /** Every group under the board's low cut and all alike: the pack was left empty, no group fell by itself. */
    public bool $lowTogether = false;

    public ?float $middleCharge = null;

    public ?float $middleV = null;

    /** Volts of the middle group where a charge stopped or a group was seen at its top; null while none was. */
    public ?float $middleAtTopV = null;

    /** Amp-hours that the whole pack gave, started full; null where nobody measured it. */
    public ?float $packCapacityAh = null;

    /** The same, or the median group's, over the rated one, with 1 sigma. */
    public ?float $packCapacity = null;

    public float $packCapacitySigma = 0.0;

    /** Ratio of the median group's measured resistance to what its cells promise, once currents were read. */
    public ?float $middleResistanceMohm = null;

    public bool $underLoad = false;

    public bool $onCharge = false;

    public float $leakDays = 0.0;

    public ?float $outputV = null;

    public ?string $outputInput = null;

    /** @var array<string, float> volts a second by which a group sinks or rises in a set under current, by its id */
    private array $drifts = [];

    /** The lowest that the output was read at, at rest. */
    public ?float $outputLowestV = null;

    public ?float $outputLowImpedanceV = null;

    public ?float $portV = null;

    /** @var list<string> */
    public array $boardFlags = [];

    /** The board's own report at rest, beside the meter's readings. */
    public ?NetworkSolution $boardRest = null;

    /** @var array<int, array{float, float}> groups that sink with the sense plug in and not with it out: fraction a day in, out */
    public array $bleeding = [];

    public float $unpluggedDays = 0.0;

    /**
     * @var array<int, float> volts that groups fell between two rests on the flat part of a phosphate curve, where that says nothing
     * of a leak
     */
    public array $fellOnPlateau = [];

    /** Whether groups at one end sink together with the sense plug in and not with it out; null while nobody tried. */
    public ?bool $drainByPlug = null;

    /** @var array{int, int, float}|null those groups, and how much of their charge sank, as a fraction */
    public ?array $drainRun = null;

    /** @var array<int, float> kelvin over ambient by joint (its tap), while current flowed */
    public array $jointHeat = [];

    /** @var array<int, bool> joints whose drop was measured: true when it is far too large */
    public array $jointDrop = [];

    /** @var array<int, string> what that drop was, in words */
    public array $jointWords = [];

    /** @var array<int, array{float, float}> joints re-tightened between two sets under current: excess mohm before and after */
    public array $retightened = [];

    /** @var list<int> joints re-tightened and not read under current since */
    public array $unreadJoints = [];

    public function __construct(public readonly JobRecord $record)
    {
        $this->curve = RestCurve::of($record->pack->chemistry);
        for ($k = 1; $k <= $record->pack->series; $k++) {
            $this->groups[] = new GroupDraft($k);
        }
        $sittings = $this->sittings();
        $this->readRest($sittings);
        (new LeakEvidence($this))->read($sittings);
        (new CurrentEvidence($this))->read();
        $this->readTerminals();
        (new TestEvidence($this))->read();
    }

    /** @return list<array{solution: NetworkSolution, at: ?\DateTimeImmutable, board: bool, first: Measurement}> rest sittings by time */
    private function sittings(): array
    {
        $sittings = [];
        $rested = array_filter($this->record->current(), fn(Measurement $m): bool => $m->isRest() && $this->network($m) !== []) !== [];
        foreach ($this->record->current() as $m) {
            // A pack that was never read at rest is judged by what was read while it relaxed, with a wider sigma.
            if (!$m->isRest() && ($rested || $m->condition !== Condition::Relaxing)) {
                continue;
            }
            $readings = $this->network($m);
            if ($readings === []) {
                continue;
            }
            $last = array_key_last($sittings);
            $near =
                $last !== null &&
                $sittings[$last]['board'] === $m->fromBoard &&
                $m->at !== null &&
                $sittings[$last]['at'] !== null &&
                $m->at->getTimestamp() - $sittings[$last]['at']->getTimestamp() <= self::SAME_SITTING_S &&
                !$this->touchedBetween($sittings[$last]['at'], $m->at, null);
            $joined = $near ? $this->joined($sittings[$last]['readings'], $readings) : null;
            if ($near && $joined !== null) {
                $sittings[$last]['readings'] = $joined;
                $sittings[$last]['sets'][] = $m->id;
            } else {
                $sittings[] = ['readings' => $readings, 'at' => $m->at, 'board' => $m->fromBoard, 'first' => $m, 'sets' => [$m->id]];
            }
        }

        // What the board said before its wires were repaired is past; of several reports the last one is what it sees.
        $repaired = $this->lastEvent('wire-repaired');
        $sittings = array_values(
            array_filter($sittings, fn(array $s): bool => !$s['board'] || $repaired === null || $s['at'] === null || $s['at'] >= $repaired),
        );
        $boards = array_keys(array_filter($sittings, fn(array $s): bool => $s['board']));

        return array_map(
            function (array $s, int $i) use ($boards): array {
                $solution = ReadingNetwork::solve($s['readings'], $this->record->pack->series, $this->record->pack->profile()->fullV);
                if (!$s['board'] || $i === end($boards)) {
                    $this->solutions[] = $solution;
                }
                if (count($s['sets']) === 1 && $s['first']->isRest()) {
                    $this->alone[$s['first']->id] = $solution;
                }

                return ['solution' => $solution, 'at' => $s['at'], 'board' => $s['board'], 'first' => $s['first']];
            },
            $sittings,
            array_keys($sittings),
        );
    }

    public function lastEvent(string $kind): ?\DateTimeImmutable
    {
        if (array_key_exists($kind, $this->lastEvents)) {
            return $this->lastEvents[$kind];
        }
        $last = null;
        foreach ($this->record->events as $event) {
            $at = $event->string('at');
            if ($event->string('kind') === $kind && $at !== null && ($last === null || new \DateTimeImmutable($at) > $last)) {
                $last = new \DateTimeImmutable($at);
            }
        }

        return $this->lastEvents[$kind] = $last;
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

    /** The rest set nearest in time: what groups were at when current was drawn, not what they have leaked to since. */
    public function restNear(?\DateTimeImmutable $at): ?NetworkSolution
    {
        $best = null;
        $apart = INF;
        foreach ($this->restSets as $s) {
            $d = $at === null || $s['at'] === null ? 1e12 : (float) abs($s['at']->getTimestamp() - $at->getTimestamp());
            if ($at !== null && $s['at'] !== null && $this->touchedBetween(min($at, $s['at']), max($at, $s['at']), null)) {
                // A group was charged by itself in between.
                $d += 1e12;
            }
            if ($d <= $apart) {
                [$best, $apart] = [$s['solution'], $d];
            }
        }

        return $best;
    }

    /** Whether a set was taken before the groups had come to rest. */
    public function relaxes(Measurement $m): bool
    {
        return $m->condition === Condition::Relaxing ||
            ($m->restedMin !== null && $m->restedMin < $this->record->pack->chemistry->restMinutes());
    }

    /** @return list<NetworkReading> */
    private function network(Measurement $m): array
    {
        if (isset($this->networks[$m->id])) {
            return $this->networks[$m->id];
        }
        $out = [];
        foreach ($m->readings as $reading) {
            if ($reading->isBetweenTaps()) {
                $out[] = NetworkReading::of($reading, $m->instrument, $m->fromBoard);
            }
        }

        return $this->networks[$m->id] = $out;
    }

    /** One set by itself, groups allowed to stand above full while charge flows. */
    public function solved(Measurement $m): NetworkSolution
    {
        return $this->solvedSets[$m->id] ??= ReadingNetwork::solve(
            $this->still($m),
            $this->record->pack->series,
            $this->record->pack->profile()->fullV + ReadingNetwork::ABOVE_FULL_V,
        );
    }

    /**
     * Volts of the groups as this set by itself gives them, as read, with 1 sigma of each against the others of the set; null
     * where it says nothing.
     *
     * @return array{volts: list<float|null>, sigma: list<float|null>}
     */
    public function readOf(Measurement $m): array
    {
        $solution =
            $this->alone[$m->id] ??
            ReadingNetwork::solve(
                $this->network($m),
                $this->record->pack->series,
                $this->record->pack->profile()->fullV + ($m->isRest() ? 0.0 : ReadingNetwork::ABOVE_FULL_V),
            );

        $round = fn(?float $v): ?float => $v === null ? null : round($v, GroupVoltage::DECIMALS);

        return [
            'volts' => array_map(fn(GroupVoltage $g): ?float => $round($g->volts), $solution->groups),
            'sigma' => array_map(fn(GroupVoltage $g): ?float => $round($g->volts === null ? null : $g->ownSigmaV), $solution->groups),
        ];
    }

    /** @return list<NetworkReading> the readings of a set under current as if taken at one moment */
    private function still(Measurement $m): array
    {
        $readings = $this->network($m);
        if (!$m->underCurrent()) {
            return $readings;
        }
        $rest = [];
        foreach ($this->restNear($m->at)?->read() ?? [] as $g) {
            $rest[$g->group] = (float) $g->volts;
        }
        $seconds = array_values(
            array_map(fn(Reading $r): ?float => $r->atS, array_filter($m->readings, fn(Reading $r): bool => $r->isBetweenTaps())),
        );

        $this->drifts[$m->id] = Drift::of($readings, $seconds, $rest);

        return Drift::without($this->drifts[$m->id], $readings, $seconds);
    }

    /** Volts that the whole string has moved by under current between the first moment of a set and one of its readings. */
    public function moved(Measurement $m, Reading $at): float
    {
        $this->solved($m);
        $seconds = $at->atS ?? VerdictLimits::READING_EVERY_S * (float) array_search($at, $m->readings, true);

        return ($this->drifts[$m->id] ?? 0.0) * $this->record->pack->series * $seconds;
    }

    /** @param  list<array{solution: NetworkSolution, at: ?\DateTimeImmutable, board: bool, first: Measurement}>  $sittings */
    private function readRest(array $sittings): void
    {
        $meter = array_values(array_filter($sittings, fn(array $s): bool => !$s['board'] && $s['solution']->read() !== []));
        $board = array_values(array_filter($sittings, fn(array $s): bool => $s['board']));
        $this->boardRest = $board === [] ? null : $board[count($board) - 1]['solution'];
        $use = $meter !== [] ? $meter[count($meter) - 1] : $sittings[count($sittings) - 1] ?? null;
        if ($use === null) {
            $this->extremes = Extremes::latest($this->record, null);

            return;
        }
        $this->extremes = Extremes::latest($this->record, $use['at'] ?? null);
        $this->rest = $use['solution'];
        $this->restSets = array_map(
            fn(array $s): array => ['solution' => $s['solution'], 'at' => $s['at']],
            $meter !== [] ? $meter : [$use],
        );
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
            if (
                $g->doubt === null &&
                $g->volts > $this->record->pack->lowCutV() &&
                $g->volts < $this->record->pack->profile()->fullV + 0.1
            ) {
                $plausible[] = (float) $g->volts;
            }
        }
        $all = array_map(fn(GroupVoltage $g): float => (float) $g->volts, $this->rest->read());
        $this->lowTogether =
            count($all) >= 3 && min($all) > 0.0 && max($all) < $this->record->pack->lowCutV() && max($all) - min($all) < self::ALIKE_V;
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
            $e->chargeSigma = max(
                $sigmaV / $this->secant($v, $this->middleV),
                $this->curve->onPlateau($v) ? self::PLATEAU_SIGMA * max(0.0, 1 - abs($v - $this->middleV) / self::PLATEAU_APART_V) : 0.0,
            );
        }
    }

    /** State of charge that goes on past full: a group over the top of the curve is fuller than one at its top. */
    private function chargeAt(float $volts): float
    {
        $over = $volts - $this->curve->topV();

        return $over <= 0.0 ? $this->curve->socAt($volts) : 1.0 + $over / max(0.8, $this->curve->slope(1.0));
    }

    /** Volts per unit of charge between two rest voltages, the local slope when they are close. */
    public function secant(float $a, float $b): float
    {
        $sa = $this->curve->socAt(max($this->curve->emptyV(), min($a, $b) - 0.004));
        $sb = $this->curve->socAt(min($this->curve->topV(), max($a, $b) + 0.004));

        return max(0.02, ($this->curve->volts($sb) - $this->curve->volts($sa)) / max(1e-4, $sb - $sa));
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
        $sigmas = array_map(fn(GroupVoltage $g): float => $g->ownSigmaV, $this->rest->read());
        $sigma = sqrt(2.0) * ($sigmas === [] ? 0.001 : Robust::median($sigmas)) + 0.0015;

        return max(0.25, (2 * $sigma) / $this->secant($this->middleV, $this->middleV) / (0.1 / 30));
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

    /** Whether somebody charged group $group (or anything, when null) by itself between the two moments. */
    public function touchedBetween(?\DateTimeImmutable $from, ?\DateTimeImmutable $to, ?int $group): bool
    {
        if ($from === null || $to === null) {
            return false;
        }
        [$first, $last] = [self::moment($from), self::moment($to)];
        foreach ($this->touches ??= $this->touches() as $touch) {
            if ($touch['at'] > $last) {
                break;
            }
            if ($touch['at'] >= $first && ($group === null || $touch['group'] === null || $touch['group'] === $group)) {
                return true;
            }
        }

        return false;
    }

    private static function moment(\DateTimeImmutable $at): float
    {
        return (float) $at->format('U.u');
    }

    /** @return list<array{at: float, group: ?int}> by time */
    private function touches(): array
    {
        $out = [];
        foreach ($this->record->events as $event) {
            $at = $event->string('at');
            if ($at !== null && in_array($event->string('kind'), ['group-charged', 'balanced'], true)) {
                $out[] = ['at' => self::moment(new \DateTimeImmutable($at)), 'group' => $event->object('where')->int('group')];
            }
        }
        usort($out, fn(array $a, array $b): int => $a['at'] <=> $b['at']);

        return $out;
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
                $volts = ($r->from[0] === 'P' && $r->from === 'P+') || $r->from === 'C+' ? -$r->volts : $r->volts;
                if ($r->isOutput() && $m->condition === Condition::Rest) {
                    $this->outputLowestV = min($this->outputLowestV ?? INF, $volts);
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
