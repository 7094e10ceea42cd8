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

    /** Charger, load and sibling packs off, the clamp round the lead. */
    #[Limit('s', 'assumed')]
    public const ISOLATE_S = 60;

    /** A run at the supply, its watch afterwards with it. */
    #[Limit('h', 'assumed: no group takes so long at a twentieth of its capacity')]
    public const SUPPLY_H = 48.0;

    /** A pack is left on its charger at one time. */
    #[Limit('h', 'assumed: a day')]
    public const LEVEL_H = 24.0;

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

    /** Current through the pack in one round, all of it together. */
    #[Limit('h', 'assumed: no round needs a quarter of it')]
    public const CURRENT_H = 200.0;

    /** What a new group costs, per cell. */
    #[Limit('cents', 'assumed')]
    public const CELL_CENTS = 600;

    /** A board, a charger, another part. */
    #[Limit('cents', 'assumed')]
    public const PART_CENTS = 2500;

    /** An hour of hands. */
    #[Limit('cents', 'assumed: as an offer is made where the shop has said nothing')]
    public const HOUR_CENTS = 6000;

    /** A sitting of training has an end: a round that was begun before it is played on. */
    #[Limit('min', 'handbook "Trainer": a session of 15 minutes')]
    public const SESSION_MIN = 15;

    /** What was met for the first time is half forgotten after so long. */
    #[Limit('d', 'assumed: two days')]
    public const FIRST_HALF_DAYS = 2.0;

    /** Told again, it is remembered so many times as long; missed, for this share of the time. */
    #[Limit('', 'assumed')]
    public const HALF_GROWS = 2.2;

    #[Limit('', 'assumed')]
    public const HALF_SHRINKS = 0.3;

    /** No half-life is shorter, and none longer. */
    #[Limit('d', 'assumed: six hours')]
    public const LEAST_HALF_DAYS = 0.25;

    #[Limit('d', 'assumed: half a year')]
    public const MOST_HALF_DAYS = 180.0;

    /** A kind is due once no more than this is remembered of it. */
    #[Limit('', 'assumed')]
    public const RECALL_DUE = 0.7;

    /** Of the rounds so many are of a kind that is due, where one is. */
    #[Limit('', 'assumed: the rest is new, or nobody knew what comes')]
    public const DUE_SHARE = 0.65;

    /** Seeds among which a round of a kind that is due is looked for. */
    #[Limit('', 'assumed: a kind of one in forty is missed in one draw of six hundred')]
    public const SEEDS = 256;

    /** The next level is offered after so many rounds of one, */
    #[Limit('', 'assumed')]
    public const LEVEL_ROUNDS = 5;

    /** and where the share that is right, at the low end of its 90 % interval, is as much as this. */
    #[Limit('', 'assumed: four of five are not enough, six of seven are')]
    public const LEVEL_RIGHT_LOW = 0.55;

    /** Rounds of this level or higher speak for a right. */
    #[Limit('', 'assumed: plain work, judgement, and what nobody looks over once more')]
    public const READY_LEVEL = ['recover' => 2, 'decide' => 2, 'sign-off' => 3, 'release' => 4];

    /** So many of them, */
    #[Limit('', 'assumed')]
    public const READY_ROUNDS = 12;

    /** right as often as this at the low end of the 90 % interval, */
    #[Limit('', 'assumed')]
    public const READY_RIGHT_LOW = 0.6;

    /** so many in a row without an unsafe act, */
    #[Limit('', 'assumed')]
    public const READY_SAFE = 20;

    /** so many of them carried out at the supply, safely and to the end, */
    #[Limit('', 'assumed: who has never run a supply in training runs none on a real pack')]
    public const READY_SUPPLIES = ['recover' => 3];

    /** so many packs handed back with everything proved and nothing left wrong, */
    #[Limit('', 'assumed')]
    public const READY_PROVED = ['sign-off' => 3];

    /** and stated sureness off by no more than this on the mean. */
    #[Limit('', 'assumed')]
    public const READY_GAP = 0.2;
}
