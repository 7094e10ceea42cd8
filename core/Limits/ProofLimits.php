<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** Numbers that a repaired pack is held against before it goes back (handbook "Acceptance"). */
final class ProofLimits
{
    private const ACCEPTANCE = 'handbook "Acceptance"';

    #[Limit('1', self::ACCEPTANCE . ': the rested pack is within this of its working full voltage')]
    public const FINISHED = 0.005;

    #[Limit('1', self::ACCEPTANCE . ': a group that is shorter than this of its own is named')]
    public const GROUP_SHORT = 0.007;

    #[Limit('1', self::ACCEPTANCE . ': from this share of its working full voltage a reading is one of the full pack')]
    public const NEARLY_FULL = 0.975;

    #[Limit('V', self::ACCEPTANCE . ': the same of a rested phosphate group')]
    public const PHOSPHATE_FULL_V = 3.34;

    #[Limit('V', self::ACCEPTANCE . ': a board cuts within this of what it should')]
    public const CUT_V = 0.05;

    #[Limit('A', self::ACCEPTANCE . ': current that counts as a load')]
    public const LOADED_A = 0.05;

    #[Limit('1', self::ACCEPTANCE . ': groups sag within this share of the middle one')]
    public const SAG_SHARE = 0.15;

    #[Limit('V', self::ACCEPTANCE . ': or within this')]
    public const SAG_V = 0.01;

    #[Limit('1', self::ACCEPTANCE . ': share of the label that a pack gives where nothing was quoted')]
    public const CAPACITY_SHARE = 0.8;

    #[Limit('K', self::ACCEPTANCE . ': warmer than ambient by no more than this')]
    public const WARMER_K = 20.0;

    #[Limit('K', self::ACCEPTANCE . ': and one place than the middle one by this')]
    public const APART_K = 5.0;

    #[Limit('d', self::ACCEPTANCE . ': days over which a hold says something')]
    public const HOLD_DAYS = 0.9;

    #[Limit('Mohm', self::ACCEPTANCE . ': from case to terminals over this')]
    public const INSULATION_MOHM = 1.0;
}
