<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** Numbers by which a pack is laid out and its strips are cut. Each stands here once and nowhere else. */
final class BuildLimits
{
    private const SHEET = 'handbook "Build sheet"';

    private const BUDGET = 'handbook "Current budget"';

    #[Limit('mm', self::SHEET . ': plastic between two cells of a holder (assumed)')]
    public const BETWEEN_MM = 0.7;

    #[Limit('mm', self::SHEET . ': between strips of different potential, and to the rim of another group\'s cell (assumed)')]
    public const CLEARANCE_MM = 2.0;

    #[Limit('mm', self::SHEET . ': insulating sheet and strips between two layers (assumed)')]
    public const FOLD_MM = 2.0;

    #[Limit('1', self::SHEET . ': of a cell\'s diameter, what a strip reaches past the centres that it joins (assumed)')]
    public const OVERLAP = 0.7;

    #[Limit('1', self::SHEET . ': weld spots that join a strip to one end of a cell, two pairs (assumed)')]
    public const SPOTS = 4;

    #[Limit('mm', self::SHEET . ': slack of a lead, so that nothing pulls at its joint (assumed)')]
    public const SLACK_MM = 20.0;

    #[Limit('mm', self::SHEET . ': what a cut takes off the stock (assumed)')]
    public const KERF_MM = 0.5;

    #[Limit('mm', self::SHEET . ': length of a strip as it is bought, where none is entered (assumed)')]
    public const STOCK_MM = 1000.0;

    #[Limit('W', self::BUDGET . ': heat that one link may give off')]
    public const LINK_W = 0.15;
}
