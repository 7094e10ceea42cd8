<?php

declare(strict_types=1);

namespace Heartwood\Core\Record;

/** What a customer may say of a pack: the closed set, each as the screens ask it. */
enum Symptom: string
{
    case DeadOutput = 'dead-output';
    case WillNotCharge = 'will-not-charge';
    case CutsOutWhenBumped = 'cuts-out-when-bumped';
    case ChargerBlinksFault = 'charger-blinks-fault';
    case ChargerFullAtOnce = 'charger-full-at-once';
    case DiesEarly = 'dies-early';
    case CutsOutUnderLoad = 'cuts-out-under-load';
    case CutsOutUntilReconnected = 'cuts-out-until-reconnected';
    case LowRange = 'low-range';
    case GaugeJumps = 'gauge-jumps';
    case GaugeWrong = 'gauge-wrong';
    case VoltageDropsOffCharger = 'voltage-drops-off-charger';
    case StoredLong = 'stored-long';
    case Modified = 'modified';
    case Swelling = 'swelling';
    case Hot = 'hot';
    case HotOnCharge = 'hot-on-charge';
    case HotInUse = 'hot-in-use';
    case Smell = 'smell';
    case Wet = 'wet';
    case Dropped = 'dropped';
    case ShortCircuited = 'short-circuited';

    public function title(): string
    {
        return match ($this) {
            self::DeadOutput => 'Dead: no output',
            self::WillNotCharge => 'Will not charge',
            self::CutsOutWhenBumped => 'Cuts out when bumped',
            self::ChargerBlinksFault => 'Charger blinks a fault',
            self::ChargerFullAtOnce => 'Charger says full at once',
            self::DiesEarly => 'Dies early',
            self::CutsOutUnderLoad => 'Cuts out under load',
            self::CutsOutUntilReconnected => 'Cuts out until reconnected',
            self::LowRange => 'Runs shorter than it did',
            self::GaugeJumps => 'Gauge jumps',
            self::GaugeWrong => 'Gauge is wrong',
            self::VoltageDropsOffCharger => 'Drops when off the charger',
            self::StoredLong => 'Stored for long',
            self::Modified => 'Modified',
            self::Swelling => 'Swelling',
            self::Hot => 'Gets hot: at rest, or not said when',
            self::HotOnCharge => 'Gets hot on charge',
            self::HotInUse => 'Gets hot in use',
            self::Smell => 'Smells',
            self::Wet => 'Got wet',
            self::Dropped => 'Dropped',
            self::ShortCircuited => 'Short-circuited',
        };
    }
}
