<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** Numbers that a tester's log is held against before it is believed. Each stands here once and nowhere else. */
final class LogLimits
{
    private const LOGS = 'handbook "Test logs of cells and groups"';

    #[Limit('1', self::LOGS . ': hours of the rate that a capacity is tested at, C/5')]
    public const RATE_H = 5.0;

    #[Limit('1', self::LOGS . ': the rate, plus or minus this share')]
    public const RATE_SHARE = 0.5;

    #[Limit('degC', self::LOGS . ': not colder than this')]
    public const COLDEST_C = 15.0;

    #[Limit('degC', self::LOGS . ': not warmer than this')]
    public const WARMEST_C = 30.0;

    #[Limit('V', self::LOGS . ': a charge ended full within this of the full volts, a cell (assumed)')]
    public const FULL_WITHIN_V = 0.02;

    #[Limit('1', 'handbook "Balancing": hours of the tail current at which a charge is full, C/20')]
    public const TAIL_H = 20.0;

    #[Limit('1', self::LOGS . ': what rounding and a last row may add to the tail (assumed)')]
    public const TAIL_OVER = 1.05;

    #[Limit('s', self::LOGS . ': longer without current, and a discharge was interrupted (assumed)')]
    public const PAUSE_S = 60.0;

    #[Limit('1', self::LOGS . ': share of the rating under which a charge is none, but a row or two that are off (assumed)')]
    public const CHARGE_SHARE = 0.02;

    #[Limit('1', self::LOGS . ': intervals that a stretch of rows which are off lasts at most (assumed)')]
    public const OFF_ROWS = 3.0;

    #[Limit('1', self::LOGS . ': rows in a row at or under the cut-off before it is reached, unless the discharge ends there (assumed)')]
    public const CUTOFF_ROWS = 3;

    #[Limit('1', self::LOGS . ': times the rating that no cell gives: the columns, their units or the rating are wrong (assumed)')]
    public const MOST_OF_RATED = 1.5;

    #[Limit('1/h', self::LOGS . ': times the rating in amps that no test draws (assumed)')]
    public const MOST_RATE = 30.0;

    #[Limit('1', self::LOGS . ': share of rows that could not be read from which a capacity is not believed (assumed)')]
    public const SKIPPED_SHARE = 0.01;
}
