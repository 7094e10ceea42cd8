<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol;

use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Work\Facts;

/** A guided run under way: on which pack, on what of it, since when, and what was typed so far. */
final readonly class Course
{
    public JobRecord $record;

    public PackSpec $pack;

    /**
     * @param  float  $startedAt  seconds of the epoch, as `now`
     * @param  list<Entry>  $entries  in the order in which they were taken; what was withdrawn is not among them
     * @param  array<string, Fields>  $proof  what was entered for acceptance checks of the pack as it is
     */
    public function __construct(
        public Facts $facts,
        public PackEvidence $evidence,
        public Place $scope,
        public float $startedAt,
        public array $entries,
        public float $now,
        public array $proof = [],
    ) {
        $this->record = $facts->record;
        $this->pack = $facts->record->pack;
    }

    /** The same with something more. */
    public function with(Entry $entry): self
    {
        return new self(
            $this->facts,
            $this->evidence,
            $this->scope,
            $this->startedAt,
            [...$this->entries, $entry],
            $this->now,
            $this->proof,
        );
    }

    /** @return list<Entry> of a step */
    public function all(string $step): array
    {
        return array_values(array_filter($this->entries, fn(Entry $e): bool => $e->step === $step));
    }

    /** The last of a step that was not left out; null where there is none. */
    public function entry(string $step): ?Entry
    {
        $all = array_values(array_filter($this->all($step), fn(Entry $e): bool => !$e->left));

        return $all === [] ? null : $all[count($all) - 1];
    }

    public function values(string $step): Fields
    {
        return $this->entry($step)?->fields() ?? new Fields([]);
    }

    /** Minutes between what was typed at one step and the first of another; null where either is missing. */
    public function minutes(string $from, string $to): ?float
    {
        $a = $this->entry($from);
        $b = $this->all($to)[0] ?? null;

        return $a === null || $b === null ? null : ($b->at - $a->at) / 60;
    }

    /** @return list<float|null>|null volts of every group at the last reading of a step; null where it was not read */
    public function groups(string $step): ?array
    {
        $entry = $this->entry($step);

        return $entry === null ? null : $this->groupsOf($entry);
    }

    /** @return list<float|null> volts of every group, null where it was not read */
    public function groupsOf(Entry $entry): array
    {
        if ($entry->found !== '' && isset($entry->values['volts'])) {
            return $entry->fields()->numbers('volts');
        }
        $typed = $entry->fields()->string('groups_v');

        return $typed === null ? [] : TypedGroups::of($typed, $this->pack->chemistry)->volts;
    }

    /** Amps of a discharge over so many hours; null where nobody said what the pack holds. */
    public function ampsOver(float $hours): ?float
    {
        $ah = $this->pack->groupCapacityAh();

        return $ah === null ? null : $ah / $hours;
    }
}
