<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** Numbers of the guided runs (handbook "Protocols"). Each stands here once and nowhere else. */
final class ProtocolLimits
{
    private const PROTOCOLS = 'handbook "Protocols"';

    private const TRIAL = 'handbook "Protocols", charger trial';

    #[Limit('min', self::PROTOCOLS . ': rest between the end of a charge and the discharge that measures')]
    public const REST_MIN = 30.0;

    #[Limit('min', self::PROTOCOLS . ': the longest that such a rest should take; over it, it is said')]
    public const REST_MOST_MIN = 60.0;

    #[Limit('s', self::PROTOCOLS . ': after the current comes on, the first set of a load step')]
    public const LOAD_FIRST_S = 10.0;

    #[Limit('s', self::PROTOCOLS . ': and the second')]
    public const LOAD_S = 60.0;

    #[Limit('V', self::PROTOCOLS . ': read again at the end of a set, the first group may have moved by this (assumed)')]
    public const AGAIN_V = 0.005;

    #[Limit('1', self::PROTOCOLS . ': or by this share of what it sagged (assumed)')]
    public const AGAIN_SHARE = 0.1;

    #[
        Limit(
            'V',
            self::PROTOCOLS . ': a group that stays this much further below its start than the middle one is short of charge (assumed)',
        ),
    ]
    public const STAYS_V = 0.01;

    #[Limit('min', self::PROTOCOLS . ': groups are read at least so often in a watched charge or discharge')]
    public const EVERY_MIN = 5.0;

    #[Limit('s', self::PROTOCOLS . ': and so often in its last tenth')]
    public const TAIL_EVERY_S = 30.0;

    #[Limit('1', self::PROTOCOLS . ': that last part')]
    public const TAIL_PART = 0.1;

    #[Limit('d', 'handbook "Self-discharge": days between two fillings before what it took says anything')]
    public const REFILL_DAYS = 7.0;

    #[Limit('Ah', 'handbook "Self-discharge": 1 sigma of what a filling took, also of the verdict (assumed)')]
    public const REFILL_SIGMA_AH = 0.0025;

    #[Limit('min', self::PROTOCOLS . ': rest of a full pack before its gauge is taught')]
    public const GAUGE_FULL_MIN = 120.0;

    #[Limit('min', self::PROTOCOLS . ': and of the empty one')]
    public const GAUGE_EMPTY_MIN = 300.0;

    #[Limit('1', self::TRIAL . ': chance that a fault of every n-th cycle was missed by n clean ones, which is said', step: 0.2)]
    public const MISSED = 0.05;

    #[Limit('h', self::TRIAL . ': from here on a charge is one of a whole night')]
    public const OVERNIGHT_H = 8.0;

    #[Limit('V', self::TRIAL . ': over the high cut at which a second, independent cut-off acts', step: 0.2)]
    public const SECOND_CUT_V = 0.05;

    /** What each cause of a charge gone wrong is worth before anything was tried. */
    #[Limit('1', self::TRIAL . ': weights of the causes before the first cycle (assumed)')]
    public const CAUSES = [
        'wrong-profile' => 0.2,
        'wrong-voltage' => 0.15,
        'mode-slipped' => 0.25,
        'board-does-not-cut' => 0.15,
        'weak-cells' => 0.15,
        'mechanical' => 0.1,
    ];

    #[Limit('1', self::TRIAL . ': what a thing seen for itself is worth against the other causes (assumed)')]
    public const SEEN = 50.0;

    #[Limit('1', self::TRIAL . ': what a thing that only points there is worth (assumed)')]
    public const HINT = 10.0;

    #[Limit('1', self::TRIAL . ': and what is left of a cause that was looked for and not there (assumed)')]
    public const NOT_THERE = 0.1;
}
