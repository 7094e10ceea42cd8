<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** Numbers of what is read after a pack went back (handbook "After the return: does the repair hold?"). */
final class DriftLimits
{
    private const RETURNED = 'handbook "After the return: does the repair hold?"';

    #[Limit('V', self::RETURNED . ': spread that a repaired pack stays inside, the row "balance soon" of the rest spread')]
    public const SPREAD_V = VerdictLimits::BALANCE_SOON_V;

    #[Limit('h', self::RETURNED . ': readings so soon after the work do not count')]
    public const SETTLES_H = 24.0;

    #[Limit('1', self::RETURNED . ': charge within this of the middle one, else readings are not comparable')]
    public const SOC_WITHIN = 0.05;

    #[Limit('d', self::RETURNED . ': it holds when the limit is not reached for so long')]
    public const HOLDS_D = 365.0;

    #[Limit('mV/d', self::RETURNED . ': slower than this is no growth')]
    public const GROWS_MV_D = 0.1;

    #[Limit('1', self::RETURNED . ': from so many readings on Sen\'s interval; fewer, and it comes from the readings\' own sigma', 1.0)]
    public const SEN_FROM = 4;

    #[Limit('1', self::RETURNED . ': standard normal value of a two-sided interval of 90 % (NIST/SEMATECH e-Handbook, 1.3.6.7.1)')]
    public const Z_90 = 1.6449;

    #[Limit('a', self::RETURNED . ': a date further off is none')]
    public const FAR_A = 10.0;

    /** Days after the work at which a pack is read again, unless what is known moves it. */
    #[Limit('a', self::RETURNED . ': a date further off is none')]
    public const PLAN_D = [3, 7, 14, 30, 90];
}
