<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** What a round of the trainer is drawn and judged by (handbook "Trainer"). */
final class TrainerLimits
{
    #[Limit('', 'handbook "Trainer": 1 single plain faults to 4 mixtures and traps')]
    public const LEVELS = 4;

    /** Of the rounds of each level so many have nothing wrong (10 to 15 %). */
    #[Limit('', 'handbook "Trainer": nothing wrong at all, 10-15 %')]
    public const NOTHING_WRONG = 0.12;

    /** Of the rounds of level 4 so many have two faults at once. */
    #[Limit('', 'assumed')]
    public const TWO_AT_ONCE = 0.6;

    /** Of single readings so many are of another tap than was meant, by level. */
    #[Limit('', 'assumed: a practised hand slips once or twice in a hundred')]
    public const SLIPS = [1 => 0.0, 2 => 0.0, 3 => 0.01, 4 => 0.015];

    /** A probe is moved, the meter settles, the number is taken. */
    #[Limit('s', 'assumed: a reading by hand')]
    public const READ_S = 14;

    /** A look at the case and what the customer says. */
    #[Limit('s', 'assumed')]
    public const LOOK_S = 120;

    /** Before current flows: clips, set-points, a second look at both. */
    #[Limit('s', 'assumed')]
    public const CLIPS_S = 180;

    /** The sense plug out or in. */
    #[Limit('s', 'assumed')]
    public const PLUG_S = 60;

    /** An act that cannot be done is tried all the same. */
    #[Limit('s', 'assumed')]
    public const IN_VAIN_S = 10;

    /** From this probability up a finding of the answer is said, and not merely thought of. */
    #[Limit('', 'assumed: more likely than not')]
    public const SAID = 0.5;

    /** Waiting at one time. */
    #[Limit('h', 'assumed: a month')]
    public const WAIT_H = 720.0;

    /** Acts of one round. */
    #[Limit('', 'assumed: no round needs a tenth of it')]
    public const ACTS = 600;

    /** What a new group costs, per cell. */
    #[Limit('cents', 'assumed')]
    public const CELL_CENTS = 600;

    /** A board, a charger, another part. */
    #[Limit('cents', 'assumed')]
    public const PART_CENTS = 2500;

    /** An hour of hands. */
    #[Limit('cents', 'assumed: as an offer is made where the shop has said nothing')]
    public const HOUR_CENTS = 6000;
}
