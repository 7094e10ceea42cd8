<?php

declare(strict_types=1);

namespace Heartwood\Core\Feature;

/** What can be known of a place. The units are those of `Feature`. */
enum FeatureKind: string
{
    /** Volts at rest, and the charge against the pack's middle as a fraction. */
    case Rest = 'rest';
    /** Fraction of capacity lost a day beyond the median group, from two rest voltages. */
    case Leak = 'leak';
    /** The same from the amp-hours to fill it again. */
    case Refill = 'refill';
    /** Resistance beyond the median group over a sound group's, from sets under current. */
    case Resistance = 'resistance';
    /** Measured capacity over what its fellows hold (or the rated one). */
    case Capacity = 'capacity';
    /** A weld tugged, or the strips read under load: loose | holds. */
    case Weld = 'weld';
    /** The strips read at rest: one draws | none draws. */
    case Strips = 'strips';
    /** Resistance of the cells by themselves over a sound group's, less 1. */
    case Cells = 'cells';
    /** Volts ahead of the median when a charge was stopped. */
    case Top = 'top';
    /** Volts behind the median when a discharge was stopped. */
    case Bottom = 'bottom';
    /** Volts over the median that stay once the charge current has stopped. */
    case Stays = 'stays';
    /** Volts over its own rest voltage beyond what the others rise on charge. */
    case Jump = 'jump';
    /** A small current into a low group: rises | hangs | falls. */
    case Recovery = 'recovery';
    /** The drop across a joint itself: bad | good. */
    case Drop = 'drop';
    /** Kelvin of a joint over ambient while current flows: hot | cool. */
    case Heat = 'heat';
    /** A re-tightened joint: cured | same. */
    case Cure = 'cure';
    /** Of the way out and in: open | conducts. */
    case Fuse = 'fuse';
    case Switch = 'switch';
    case Connector = 'connector';
    /** Moved while reading: changes | same. */
    case Flex = 'flex';
    /** The temperature sensor by its ohms: off | right. */
    case Sensor = 'sensor';
    /** A temperature that the board reports and that is not there: reported. */
    case Flag = 'flag';
    /** An over-current that the board reports: reported. */
    case OverCurrent = 'over-current';
    /** Attempts to wake the board: woke | nothing. */
    case Pulse = 'wake by charger-pulse';
    case Button = 'wake by button';
    case Enable = 'wake by enable-wire';
    case Bridge = 'wake by bridge';
    case Reconnect = 'wake by reconnect';
    case Device = 'wake by device';
    /** The output read alive: alive. */
    case Alive = 'alive';
    /** The charger measured: good | dead | wrong. */
    case Charger = 'charger';
    /** The charger's volts at the port while nothing flows: stands | absent. */
    case Port = 'port';
    /** Current went in on the bench: flowed. */
    case TookCharge = 'took charge';
    /** Current went out on the bench: flowed. */
    case GaveCurrent = 'gave current';
    /** What the customer tells: said. */
    case Bumped = 'cuts-out-when-bumped';
    case Stored = 'stored-long';
    case ShortCircuited = 'short-circuited';
    case Reconnected = 'cuts-out-until-reconnected';
    case GaugeJumps = 'gauge-jumps';
    case HotInUse = 'hot-in-use';
    /** Who stopped the charge: board. */
    case BoardStopped = 'board stopped';
}
