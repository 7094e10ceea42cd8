<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** Numbers of many packs of one owner (handbook "Many packs of one owner"). */
final class FleetLimits
{
    private const SIBLINGS = 'handbook "Many packs of one owner"';

    #[Limit('V', self::SIBLINGS . ': under the middle of all groups by more, a group is topped up by itself')]
    public const TOP_FROM_V = 0.01;

    #[Limit('h', self::SIBLINGS . ': hours of a full charge at which a group is topped up where nobody says the current, C/20')]
    public const TOP_AT_H = 20.0;

    #[Limit('1', self::SIBLINGS . ': charge within which packs are laid side by side')]
    public const SOC_WITHIN = 0.05;

    #[Limit('1', self::SIBLINGS . ': failures that are counted before any was seen (Jeffreys\' prior of a Poisson rate)')]
    public const PRIOR_FAILURES = 0.5;

    #[Limit('wk', 'weeks until a board comes where nobody says, assumed; said on the screen and changed there')]
    public const LEAD_WEEKS = 6.0;

    #[Limit('1', 'share of times at which no spare is to be lacking where nobody says, assumed')]
    public const LEVEL = 0.95;

    #[Limit('wk', self::SIBLINGS . ': weeks of a month')]
    public const MONTH_WEEKS = 4.345;

    #[Limit('V', 'assumed: by which each group of a pasted table may be rounded before its total says that one is a slip')]
    public const SUM_APART_V = 0.01;

    #[Limit('h', self::SIBLINGS . ': a group that is topped up is at its end from a current of C/20 ...')]
    public const TOP_END_FROM_H = 20.0;

    #[Limit('h', self::SIBLINGS . ': ... to one of C/50')]
    public const TOP_END_TO_H = 50.0;

    #[Limit('V', 'assumed: short of the supply\'s voltage, at its end, a group still counts as full')]
    public const TOPPED_WITHIN_V = 0.02;

    #[Limit('V', 'assumed: a meter at the clips and the wall agree within, else it is another group')]
    public const SAME_GROUP_V = 0.05;

    #[Limit('A', 'handbook "Gates on work": zero current is proved before a clip goes on; what a clamp meter still shows of nothing')]
    public const NO_CURRENT_A = 0.05;

    #[Limit('mo', 'assumed: months of one board over which half a failure is expected where its own history is shorter, one in 40 years')]
    public const BOARD_MONTHS = 240.0;

    #[Limit('mo', 'assumed: months of one group over which half a failure is expected where its own history is shorter, one in 200 years')]
    public const GROUP_MONTHS = 1200.0;

    #[Limit('V', self::SIBLINGS . ': from the middle of all at most, a group is excellent where the meter resolves it')]
    public const EXCELLENT_V = 0.005;

    #[Limit('V', 'assumed: a pack whose groups all stand off by more is another charge or another meter, and no group of it is low')]
    public const SHIFT_V = 0.01;

    #[Limit('1', 'assumed: share of what a pack gives now from which another group in the place of its weakest is worth taking it in')]
    public const WORTH_SHARE = 0.05;
}
