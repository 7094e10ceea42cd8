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
    #[Limit('d', self::RETURNED . ': days after the work, three of them within the first fortnight')]
    public const PLAN_D = [3, 7, 14, 30, 90];

    #[Limit('1', self::RETURNED . ': a group that may lose more a month never stays in service')]
    public const TOPUP_LEAK_A_MONTH = 0.3;

    #[Limit('1', self::RETURNED . ': sigmas by which a leak is taken at its worst')]
    public const TOPUP_SIGMAS = 2.0;

    #[Limit('1', self::RETURNED . ': of what a pack gives, what it may lose before its window suffers (assumed)')]
    public const TOPUP_LOSS = 0.05;

    #[Limit('V', self::RETURNED . ': half against half, what an ordinary meter is sure of')]
    public const HALVES_V = 0.3;

    #[Limit('1', self::RETURNED . ': last digits of a display by which two halves may stand apart for nothing (assumed)')]
    public const HALVES_STEPS = 3.0;

    #[Limit('1', self::RETURNED . ': by which the percent of a display may be wrong (assumed)')]
    public const WHOLE_SOC = 0.1;

    #[Limit('1', self::RETURNED . ': passports within a passport, one for each workshop that a pack went through (assumed)', 1.0)]
    public const PASSPORT_DEPTH = 8;

    #[Limit('mo', 'handbook "A pack that comes back": that a shop promises of its work where it has said nothing (assumed)')]
    public const PROMISE_MONTHS = 6;

    #[Limit('d', self::RETURNED . ': after which a reading that is due is overdue (assumed)')]
    public const OVERDUE_D = 7.0;
}
