<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

/** Why a run ended: a closed set. Where one sample breaks several rules, the first in this order is named. */
enum Why: string
{
    case Person = 'person';
    case ClipsReversed = 'clips.reversed';
    case GroupBelowFloor = 'group.below-floor';
    case GroupPastFull = 'group.past-full';
    case VoltagePastFull = 'voltage.past-full';
    case SupplyOverVoltage = 'supply.over-voltage';
    case TemperatureHot = 'temperature.hot';
    case TemperatureCold = 'temperature.cold';
    case TemperatureRises = 'temperature.rises';
    case SupplyOverCurrent = 'supply.over-current';
    case SupplyNotAsOrdered = 'supply.not-as-ordered';
    case SupplyNoCurrent = 'supply.no-current';
    case ClipsOpen = 'clips.open';
    case ClipsBelowFloor = 'clips.below-floor';
    case ClipsWrongGroup = 'clips.wrong-group';
    case VoltageFalls = 'voltage.falls';
    case VoltageHangs = 'voltage.hangs';
    case ChargeTooMuch = 'charge.too-much';
    case RestFalls = 'rest.falls';
    case ReadingMissing = 'reading.missing';
    case NobodyPresent = 'nobody-present';
    case ClosingTime = 'closing-time';
    case TargetReached = 'target-reached';
    case Done = 'done';

    /** Place in the order of naming, 0 first. */
    public function rank(): int
    {
        return (int) array_search($this, self::cases(), true);
    }

    /** Whether the run came to what it was started for. */
    public function isGood(): bool
    {
        return $this === self::TargetReached || $this === self::Done;
    }

    /** Whether volts, warmth or the supply ended it: the pack is looked at anew before anything else. */
    public function wantsTriage(): bool
    {
        return !$this->isGood() &&
            !in_array(
                $this,
                [self::Person, self::ReadingMissing, self::NobodyPresent, self::ClosingTime, self::ClipsOpen, self::ClipsWrongGroup],
                true,
            );
    }

    /** A heading of two or three words. */
    public function word(): string
    {
        return match ($this) {
            self::Person => 'ended by hand',
            self::ClipsReversed => 'clips reversed',
            self::GroupBelowFloor => 'a group under its limit',
            self::GroupPastFull => 'a group past full',
            self::VoltagePastFull => 'past full',
            self::SupplyOverVoltage => 'supply over its voltage',
            self::TemperatureHot => 'too warm',
            self::TemperatureCold => 'too cold',
            self::TemperatureRises => 'warming',
            self::SupplyOverCurrent => 'too much current',
            self::SupplyNotAsOrdered => 'supply not as ordered',
            self::SupplyNoCurrent => 'no current',
            self::ClipsOpen => 'clips open, or dead',
            self::ClipsBelowFloor => 'under the floor',
            self::ClipsWrongGroup => 'another group',
            self::VoltageFalls => 'volts fall',
            self::VoltageHangs => 'volts hang',
            self::ChargeTooMuch => 'too much went in',
            self::RestFalls => 'falls at rest',
            self::ReadingMissing => 'readings missing',
            self::NobodyPresent => 'nobody there',
            self::ClosingTime => 'closing time',
            self::TargetReached => 'at its target',
            self::Done => 'done',
        };
    }
}
