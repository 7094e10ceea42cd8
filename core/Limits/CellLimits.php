<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** Numbers by which cells are dealt into groups. Each stands here once and nowhere else. */
final class CellLimits
{
    private const MATCHING = 'handbook "Grading and matching"';

    #[Limit('1', self::MATCHING . ': largest over smallest resistance inside a group, at the most')]
    public const RATIO_IN_GROUP = 1.3;

    #[Limit('1', self::MATCHING . ': share of the uncertainty of a group total under which two totals are alike')]
    public const ALIKE_SIGMAS = 0.1;

    #[Limit('1', self::MATCHING . ': share of a capacity by which one tester errs on all its cells alike')]
    public const COMMON_GAIN = 0.005;

    #[Limit('1', self::MATCHING . ': groups whose conductances differ by no more than this share are alike (assumed)')]
    public const ALIKE_CONDUCTANCE = 0.002;

    #[Limit('1', self::MATCHING . ': cells of a delivery that are tested at the least (assumed)')]
    public const SAMPLE_LEAST = 5;

    #[Limit('1', self::MATCHING . ': and share of it (assumed)')]
    public const SAMPLE_SHARE = 0.1;

    #[Limit('1', self::MATCHING . ': share of the sample that may be out (assumed)')]
    public const SAMPLE_OUT = 0.1;

    #[Limit('1', self::MATCHING . ': share of the rating that new cells hold (assumed)')]
    public const NEW_SHARE = 0.95;

    #[Limit('1/h', 'handbook "Joining cells or packs in parallel": charge current over capacity where no maker said one (assumed)')]
    public const CHARGE_C = 0.5;
}
