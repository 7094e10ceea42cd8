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

    #[Limit('1', self::LOGS . ': share of the rating under which a whole discharge is not believed (assumed)')]
    public const LEAST_OF_RATED = 0.05;

    #[Limit('V', self::LOGS . ': volts of a cell over which a column holds something else (assumed)')]
    public const CELL_MOST_V = 5.5;

    #[Limit('V', self::LOGS . ': volts that a cell has at the least, where a unit is to be guessed (assumed)')]
    public const CELL_LEAST_V = 0.5;

    #[Limit('s', self::LOGS . ': rows are not closer together than this (assumed)')]
    public const LEAST_STEP_S = 0.02;

    #[Limit('s', self::LOGS . ': rows are not farther apart than this (assumed)')]
    public const MOST_STEP_S = 1800.0;

    #[Limit('s', self::LOGS . ': no log lasts longer, 180 days (assumed)')]
    public const MOST_LENGTH_S = 180 * 86400.0;

    #[Limit('s', self::LOGS . ': a time over this counts from 1970, 2001 (assumed)')]
    public const EPOCH_S = 1.0e9;

    #[Limit('s', self::LOGS . ': seconds from 1970 over this are a smaller unit, 2096 (assumed)')]
    public const EPOCH_MOST_S = 4.0e9;

    #[Limit('d', self::LOGS . ': days from 1900 as sheets count them, 1995 to 2119 (assumed)')]
    public const DAY_SERIALS = [35000.0, 80000.0];

    #[Limit('1', self::LOGS . ': share of the volts from full to the cut-off that a sweep covers (assumed)')]
    public const SWEPT = 0.7;

    #[Limit('1', self::LOGS . ': share of the rating that a sweep gives at the least, where a unit is to be guessed (assumed)')]
    public const LEAST_OF_SWEEP = 0.25;

    #[Limit('V', self::LOGS . ': volts a cell that have to move before they tell a direction (assumed)')]
    public const MOVED_V = 0.01;

    #[Limit('1', self::LOGS . ': times that one direction must outweigh the other (assumed)')]
    public const SURER = 3.0;

    #[Limit('1', self::LOGS . ': states that a column of states has at the most (assumed)')]
    public const MOST_STATES = 24;

    #[Limit('1', self::LOGS . ': a row stands off when its neighbours differ by less than this share of its distance (assumed)')]
    public const ALIKE = 0.2;

    #[Limit('1', self::LOGS . ': a logged capacity is uncertain by this share of itself')]
    public const GAIN_SIGMA = 0.005;

    #[Limit('1', self::LOGS . ': a capacity that somebody typed is uncertain by this share of itself (assumed)')]
    public const TYPED_SIGMA = 0.02;

    #[Limit('1', self::LOGS . ': sigmas by which two tests must differ before it is a change (assumed)')]
    public const CHANGE_SIGMAS = 2.0;

    #[Limit('d', self::LOGS . ': days between two tests from which a change a year is told (assumed)')]
    public const TREND_DAYS = 60.0;

    #[Limit('1', self::LOGS . ': a stretch turned when its volts cover more than so many times what they moved (assumed)')]
    public const TURNED = 1.5;

    #[Limit('A', self::LOGS . ': less is no current (assumed)')]
    public const REST_A = 0.005;

    #[Limit('1/h', self::LOGS . ': nor is less than so many times the rating (assumed)')]
    public const REST_SHARE = 0.005;

    #[Limit('1', self::LOGS . ': half of the interval of a lot\'s mean, as a share of it, at which enough cells are tested (assumed)')]
    public const LOT_KNOWN = 0.05;

    #[Limit('1', 'handbook "Grading and matching": spreads from the median beyond which an untested cell is tested first (assumed)')]
    public const STANDS_OFF = 3.0;

    #[Limit('1', self::LOGS . ': cells of a lot that are named for the next test, a tester of so many places (assumed)')]
    public const NEXT_OF_LOT = 3;
}
