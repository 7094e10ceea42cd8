<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** Numbers of the handbook that readings and findings are held against. Each stands here once and nowhere else. */
final class VerdictLimits
{
    private const NETWORK = 'handbook "Readings as a network"';

    private const SPREAD = 'handbook "Rest spread"';

    private const JOINTS = 'handbook "Joint or cell resistance from current"';

    private const LEAKS = 'handbook "Self-discharge"';

    private const CATALOGUE = 'handbook "The fault catalogue"';

    private const VERDICTS = 'handbook "Verdicts"';

    private const OUTSIDE = 'handbook "Outside the pack"';

    private const IDENTITY = 'handbook "Identity of a pack"';

    private const BUDGET = 'handbook "Current budget"';

    private const TRIAGE = 'handbook "Triage"';

    // Readings

    #[Limit('sigma', self::NETWORK . ': a standardised residual above this is a reading that is off (Baarda)')]
    public const RESIDUAL_SIGMAS = 3.5;

    #[Limit('sigma', self::NETWORK . ': and at least this far above the next')]
    public const RESIDUAL_MARGIN = 1.0;

    #[Limit('s', self::NETWORK . ': between readings under current where nobody wrote the seconds')]
    public const READING_EVERY_S = 4.0;

    // Spread at rest

    #[Limit('V', self::SPREAD . ': matched up to here')]
    public const MATCHED_V = 0.01;

    #[Limit('V', self::SPREAD . ': good up to here')]
    public const GOOD_V = 0.03;

    #[Limit('V', self::SPREAD . ': balance soon up to here')]
    public const BALANCE_SOON_V = 0.1;

    #[Limit('V', self::SPREAD . ': balance before use up to here, above it no charge as a pack')]
    public const LAST_V = 0.3;

    #[Limit('V', self::SPREAD . ': the same on phosphate')]
    public const LAST_PHOSPHATE_V = 0.25;

    #[Limit('V', self::SPREAD . ': volts a cell from which a phosphate set is at the taper end')]
    public const TAPER_END_V = 3.45;

    #[Limit('V', self::SPREAD . ': on the plateau this much apart is a large difference of charge')]
    public const PLATEAU_APART_V = 0.02;

    // Sets side by side

    #[Limit('A', self::SPREAD . ': under this nothing flows that a reading at rest would notice (assumed)')]
    public const REST_A = 0.05;

    #[Limit('sigma', self::NETWORK . ': from which a difference between sets is told')]
    public const SETS_SIGMAS = 3.0;

    #[Limit('mV', self::SPREAD . ': under this no difference between sets is told, however fine the meter (assumed)')]
    public const SETS_LEAST_MV = 3.0;

    // Joints, measured across

    #[Limit('1', self::JOINTS . ': times its like from which a joint is bad')]
    public const JOINT_TIMES_LIKE = 3.0;

    #[Limit('1', self::JOINTS . ': share of its group\'s resistance, with no like joint measured')]
    public const JOINT_SHARE_OF_GROUP = 0.25;

    #[Limit('V', self::JOINTS . ': drop at working current from which a joint is bad')]
    public const JOINT_DROP_V = 0.02;

    #[Limit('W', self::JOINTS . ': the same as heat')]
    public const JOINT_DROP_W = 0.5;

    #[Limit('sigma', self::JOINTS . ': beyond this many')]
    public const JOINT_SIGMAS = 3.0;

    // Self-discharge

    #[Limit('1/month', self::LEAKS . ': healthy under this')]
    public const HEALTHY_A_MONTH = 0.03;

    #[Limit('1/month', self::LEAKS . ': "not a leak" wants leak and 2 sigma under this')]
    public const LEAK_A_MONTH = 0.1;

    // The pack as a whole

    #[Limit('1', self::CATALOGUE . ': capacity over the rated one under which a pack has aged')]
    public const AGED_SHARE = 0.8;

    #[Limit('1', self::CATALOGUE . ': and under which it is mended, not only watched')]
    public const WORN_OUT_SHARE = 0.6;

    #[Limit('1', self::CATALOGUE . ': probability from which a finding is listed')]
    public const LISTED = 0.1;

    #[Limit('1', self::CATALOGUE . ': probability from which the same of several groups is one statement, and neighbours are a run')]
    public const TOGETHER = 0.5;

    #[Limit('V', self::CATALOGUE . ': under the board\'s high cut by this, a group has reached it')]
    public const AT_THE_CUT_V = 0.05;

    // Priors of the families: of the packs on a bench a tenth have no fault

    #[Limit('1', self::VERDICTS . ': cells and groups')]
    public const PRIOR_CELLS = 0.45;

    #[Limit('1', self::VERDICTS . ': joints')]
    public const PRIOR_JOINTS = 0.12;

    #[Limit('1', self::VERDICTS . ': the current path')]
    public const PRIOR_PATH = 0.1;

    #[Limit('1', self::VERDICTS . ': the board')]
    public const PRIOR_BOARD = 0.13;

    #[Limit('1', self::VERDICTS . ': charger, load or gauge')]
    public const PRIOR_OUTSIDE = 0.1;

    // Outside the pack

    #[Limit('1', self::OUTSIDE . ': open-circuit volts over the pack\'s full voltage by this share are wrong')]
    public const CHARGER_OVER_SHARE = 0.01;

    #[Limit('1', self::OUTSIDE . ': and under it by this one')]
    public const CHARGER_UNDER_SHARE = 0.03;

    #[Limit('V', self::OUTSIDE . ': volts a cell from which a phosphate charger is right')]
    public const CHARGER_PHOSPHATE_V = 3.45;

    #[Limit('1', self::IDENTITY . ': figures of a label agree within this share')]
    public const LABEL_SHARE = 0.03;

    #[Limit('1', self::BUDGET . ': charge at which a device draws its most')]
    public const WORST_CHARGE = 0.2;

    #[Limit('1', self::BUDGET . ': efficiency of a controller')]
    public const CONTROLLER_EFFICIENCY = 0.9;

    // Triage

    #[Limit('V', self::TRIAGE . ': above this, full, a pack is high voltage (direct current)')]
    public const HIGH_VOLTAGE_V = 60.0;

    #[Limit('1', self::TRIAGE . ': over the drawn thickness up to here a bulge is a note, above it swollen')]
    public const BULGE_SHARE = 0.03;
}
