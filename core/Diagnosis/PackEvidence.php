<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Reading\GroupVoltage;
use Heartwood\Core\Reading\NetworkSolution;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Measurement;
use Heartwood\Core\Record\Reading;

/**
 * The record turned into features: what each group shows at rest, under current, over days and in tests. Assembled once,
 * by readers that write to a draft, and never written again.
 */
final readonly class PackEvidence
{
    /** Kelvin over ambient from which a joint under current is hot. */
    public const JOINT_HOT_K = EvidenceDraft::JOINT_HOT_K;

    /** Groups this close in charge, as a fraction, are full and empty together: what the pack gave tells of each (assumed). */
    private const LEVEL = 0.05;

    public RestCurve $curve;

    /** @var list<GroupEvidence> */
    public array $groups;

    /** Latest rest voltages, from the meter or, failing that, the board. */
    public ?NetworkSolution $rest;

    /** @var list<array{solution: NetworkSolution, at: ?\DateTimeImmutable}> every set at rest of the same source, by time */
    public array $restSets;

    public bool $restFromBoard;

    /** The highest and the lowest group by themselves, where that is the latest that was read at rest. */
    public ?Extremes $extremes;

    public bool $relaxing;

    /** @var list<NetworkSolution> */
    public array $solutions;

    /** Every group under the board's low cut and all alike: the pack was left empty, no group fell by itself. */
    public bool $lowTogether;

    public ?float $middleCharge;

    public ?float $middleV;

    /** Volts of the middle group where a charge stopped or a group was seen at its top; null while none was. */
    public ?float $middleAtTopV;

    /** Amp-hours that the whole pack gave, started full; null where nobody measured it. */
    public ?float $packCapacityAh;

    /** The same, or the median group's, over the rated one, with 1 sigma. */
    public ?float $packCapacity;

    public float $packCapacitySigma;

    /** Ratio of the median group's measured resistance to what its cells promise, once currents were read. */
    public ?float $middleResistanceMohm;

    public bool $underLoad;

    public bool $onCharge;

    public float $leakDays;

    public ?float $outputV;

    public ?string $outputInput;

    /** The lowest that the output was read at, at rest. */
    public ?float $outputLowestV;

    public ?float $outputLowImpedanceV;

    public ?float $portV;

    /** @var list<string> */
    public array $boardFlags;

    /** The board's own report at rest, beside the meter's readings. */
    public ?NetworkSolution $boardRest;

    /** @var array<int, array{float, float}> groups that sink with the sense plug in and not with it out: fraction a day in, out */
    public array $bleeding;

    public float $unpluggedDays;

    /**
     * @var array<int, float> volts that groups fell between two rests on the flat part of a phosphate curve, where that says nothing
     * of a leak
     */
    public array $fellOnPlateau;

    /** Whether groups at one end sink together with the sense plug in and not with it out; null while nobody tried. */
    public ?bool $drainByPlug;

    /** @var array{int, int, float}|null those groups, and how much of their charge sank, as a fraction */
    public ?array $drainRun;

    /** @var array<int, float> kelvin over ambient by joint (its tap), while current flowed */
    public array $jointHeat;

    /** @var array<int, bool> joints whose drop was measured: true when it is far too large */
    public array $jointDrop;

    /** @var array<int, string> what that drop was, in words */
    public array $jointWords;

    /** @var array<int, array{float, float}> joints re-tightened between two sets under current: excess mohm before and after */
    public array $retightened;

    /** @var list<int> joints re-tightened and not read under current since */
    public array $unreadJoints;

    private EvidenceDraft $draft;

    public function __construct(public JobRecord $record)
    {
        $this->draft = $draft = new EvidenceDraft($record);
        $this->curve = $draft->curve;
        $this->groups = array_map(fn(GroupDraft $g): GroupEvidence => new GroupEvidence($g), $draft->groups);
        $this->rest = $draft->rest;
        $this->restSets = $draft->restSets;
        $this->restFromBoard = $draft->restFromBoard;
        $this->extremes = $draft->extremes;
        $this->relaxing = $draft->relaxing;
        $this->solutions = $draft->solutions;
        $this->lowTogether = $draft->lowTogether;
        $this->middleCharge = $draft->middleCharge;
        $this->middleV = $draft->middleV;
        $this->middleAtTopV = $draft->middleAtTopV;
        $this->packCapacityAh = $draft->packCapacityAh;
        $this->packCapacity = $draft->packCapacity;
        $this->packCapacitySigma = $draft->packCapacitySigma;
        $this->middleResistanceMohm = $draft->middleResistanceMohm;
        $this->underLoad = $draft->underLoad;
        $this->onCharge = $draft->onCharge;
        $this->leakDays = $draft->leakDays;
        $this->outputV = $draft->outputV;
        $this->outputInput = $draft->outputInput;
        $this->outputLowestV = $draft->outputLowestV;
        $this->outputLowImpedanceV = $draft->outputLowImpedanceV;
        $this->portV = $draft->portV;
        $this->boardFlags = $draft->boardFlags;
        $this->boardRest = $draft->boardRest;
        $this->bleeding = $draft->bleeding;
        $this->unpluggedDays = $draft->unpluggedDays;
        $this->fellOnPlateau = $draft->fellOnPlateau;
        $this->drainByPlug = $draft->drainByPlug;
        $this->drainRun = $draft->drainRun;
        $this->jointHeat = $draft->jointHeat;
        $this->jointDrop = $draft->jointDrop;
        $this->jointWords = $draft->jointWords;
        $this->retightened = $draft->retightened;
        $this->unreadJoints = $draft->unreadJoints;
    }

    /** Volts that the whole string has moved by under current between the first moment of a set and one of its readings. */
    public function moved(Measurement $m, Reading $at): float
    {
        return $this->draft->moved($m, $at);
    }

    /** Voltages of a set under current, as if read at one moment. */
    public function solved(Measurement $m): NetworkSolution
    {
        return $this->draft->solved($m);
    }

    /**
     * How the groups stood at rest when something was measured of them: a pack that was charged since says nothing of the plug that was
     * read before.
     *
     * @param  string|null  $at  when; null: as they were read last
     * @return list<float|null> volts from B-, of the complete set at rest that is nearest in time
     */
    public function standingNear(?string $at): array
    {
        $then = $at === null ? null : (new \DateTimeImmutable($at))->getTimestamp();
        $near = null;
        $apart = INF;
        foreach ($then === null ? [] : $this->restSets as $set) {
            $gap = $set['at'] === null ? INF : abs($set['at']->getTimestamp() - $then);
            if ($gap < $apart && $set['solution']->isComplete()) {
                [$near, $apart] = [$set['solution'], $gap];
            }
        }

        return $near === null
            ? array_map(fn(GroupEvidence $e): ?float => $e->restV, $this->groups)
            : array_map(fn(GroupVoltage $g): ?float => $g->volts, $near->groups);
    }

    /**
     * Amp-hours that a group is taken to hold: its own where they were measured, else what the whole pack gave where its groups
     * end together, else what its cells promise; null where nothing tells.
     */
    public function holdsAh(GroupEvidence $group): ?float
    {
        $rated = $this->record->pack->groupCapacityAh();
        if ($group->capacity !== null) {
            return $group->capacityAh;
        }

        return $this->packCapacityAh !== null && $this->isLevel() ? min($rated ?? INF, $this->packCapacityAh) : $rated;
    }

    private function isLevel(): bool
    {
        foreach ($this->groups as $g) {
            if ($g->charge === null || abs($g->charge) > self::LEVEL) {
                return false;
            }
        }

        return true;
    }

    /** @return array<string, array{volts: list<float|null>, sigma: list<float|null>}> what each set of this revision gives by itself */
    public function bySet(): array
    {
        $out = [];
        foreach ($this->record->current() as $m) {
            $out[$m->id] = $this->draft->readOf($m);
        }

        return $out;
    }

    /** Days after the first rest reading from which a leak worth calling one shows; null where that cannot be told. */
    public function leakReadyDays(): ?float
    {
        return $this->draft->leakReadyDays();
    }

    /**
     * @return array{int, int, float}|null groups at one end that lie evenly lower than all others, from, to, and by how much of their
     * charge
     */
    public function lowEnd(): ?array
    {
        return $this->draft->lowEnd();
    }

    /** Whether it is neither cold nor hot around the pack, as far as anybody wrote it. */
    public function temperate(): bool
    {
        return $this->draft->temperate();
    }
}
