<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Inference\Signature;
use Heartwood\Core\Inference\Situation;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Repair\Option;
use Heartwood\Core\Repair\RepairCase;

/**
 * One fault of the catalogue, all of it: its name, its words, how often it is, what it predicts of each feature, which
 * tests tell it apart, what is done about it (handbook "The fault catalogue"). Found by the registry `Faults`.
 */
abstract class Fault
{
    /** `area.name`, part of the product's vocabulary: never changed once it has been in a record. */
    abstract public function code(): string;

    abstract public function words(): Words;

    public function family(): Family
    {
        return Family::Derived;
    }

    /** Share of its family, 0 to 1, before the workshop's own jobs move it (assumed); 0 where it has no prior of its own. */
    public function share(): float
    {
        return 0.0;
    }

    public function severity(): Severity
    {
        return Severity::Fix;
    }

    /** What kind of place it sits at: group, joint, tap or pack. */
    public function placeKind(): string
    {
        return 'pack';
    }

    /** Chance that it alone makes the output dead; null where it has no part in that (assumed). */
    public function deadens(): ?float
    {
        return null;
    }

    /** Chance that it alone makes the pack take no charge; null where it has no part in that (assumed). */
    public function refusesCharge(): ?float
    {
        return null;
    }

    /** Causes of the same name here exclude one another: a board is latched or asleep, not both. */
    public function excludes(): string
    {
        return '';
    }

    /** Whether a pack has the part that it would be a fault of. */
    public function fitted(PackSpec $pack): bool
    {
        return true;
    }

    /** @return list<TestKind> that tell it apart */
    public function tests(): array
    {
        return [];
    }

    /** What it predicts of a feature; null: nothing of its own, as if it were not there. */
    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return null;
    }

    /** @return list<Option> what is done about a finding of it */
    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [];
    }
}
