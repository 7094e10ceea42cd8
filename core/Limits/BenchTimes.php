<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** What work on a pack usually takes, by action, for an offer and its price (assumed, to be set by each workshop). */
final class BenchTimes
{
    /** Minutes of a person. */
    #[Limit('min', 'assumed: what each action of handbook "Repair options" takes of a practised hand')]
    public const HANDS_MIN = [
        'charge-group' => 15,
        'balance' => 15,
        'recover-group' => 60,
        'recover-pack' => 120,
        'charge-pack' => 20,
        'replace-cell' => 45,
        'replace-group' => 75,
        'reweld' => 30,
        'clean-joint' => 20,
        'repair-sense' => 25,
        'repair-path' => 40,
        'wake-board' => 10,
        'replace-board' => 60,
        'replace-charger' => 5,
        'repair-load' => 45,
        'relearn-gauge' => 15,
        'relabel' => 5,
        'keep-with-topup' => 10,
        'lighter-duty' => 5,
        'donor' => 30,
        'recycle' => 10,
        'rebuild' => 240,
        'build' => 240,
    ];

    /** Of them for opening a pack and closing it again: a plan of several does that once. */
    #[Limit('min', 'assumed: open, close and count of a practised hand')]
    public const OPEN_MIN = 10;

    /** Hours of the calendar: charging, resting, the hold test, a delivery of cells. */
    #[Limit('h', 'assumed: charge, rest and hold of handbook "Recovery of a deep-discharged group", "Balancing"; a day for cells')]
    public const WAIT_H = [
        'charge-group' => 6.0,
        'balance' => 12.0,
        'recover-group' => 30.0,
        'recover-pack' => 30.0,
        'charge-pack' => 12.0,
        'replace-cell' => 24.0,
        'replace-group' => 24.0,
        'reweld' => 2.0,
        'clean-joint' => 0.5,
        'replace-board' => 1.0,
        'relearn-gauge' => 14.0,
        'rebuild' => 48.0,
        'build' => 48.0,
    ];
}
