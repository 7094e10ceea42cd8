<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** Numbers of packs that come as a lot (handbook "Batches"). */
final class BatchLimits
{
    private const LOT = 'handbook "Batches"';

    #[Limit('1', 'B. Iglewicz and D. Hoaglin, How to Detect and Handle Outliers, 1993: modified z-score from which a value is odd')]
    public const ODD_Z = 3.5;

    #[Limit('packs', 'assumed: of fewer, no middle is told from an odd one')]
    public const ODD_FROM = 5;

    #[Limit('1', 'assumed: least spread of a lot in the volts of its packs as they came, as a share of its middle')]
    public const CAME_SHARE = 0.01;

    #[Limit('V', 'assumed: least spread of a lot in the volts of one group from the middle of its pack')]
    public const GROUP_V = 0.005;

    #[Limit('V', 'assumed: least spread of a lot in how far the groups of a pack are apart')]
    public const SPREAD_V = 0.005;

    #[Limit('1', 'assumed: least spread of a lot in capacity, as a share of its middle')]
    public const CAPACITY_SHARE = 0.02;

    #[Limit('1', 'assumed: least spread of a lot in resistance, as a share of its middle')]
    public const OHM_SHARE = 0.05;

    #[Limit('1', 'assumed: least spread of a lot in volts risen by one amp-hour of a recovery, as a share of its middle')]
    public const RISE_SHARE = 0.1;

    #[Limit('K', 'assumed: least spread of a lot in how much its packs warm')]
    public const WARM_K = 1.0;

    #[Limit('1', self::LOT . ': of the interval of a yield')]
    public const YIELD_INTERVAL = 0.9;

    #[Limit('packs', 'good and bad packs that are counted before any was finished (Jeffreys\' prior of a share)')]
    public const PRIOR_PACKS = 0.5;

    #[Limit('min', 'assumed: minutes of hands to look at a pack of a lot and read its groups')]
    public const PROBE_MIN = 15;

    #[Limit('min', 'assumed: minutes of hands to read a verdict and choose')]
    public const DECIDE_MIN = 5;

    #[Limit('min', 'assumed: minutes of hands to put a pack on a supply, prove the clips and start')]
    public const START_MIN = 15;

    #[Limit('min', 'assumed: minutes of hands of a proof, without its hours')]
    public const PROOF_MIN = 20;

    #[Limit('min', 'assumed: minutes of hands to hand a pack back')]
    public const RETURN_MIN = 5;

    #[Limit('min', 'assumed: shortest sitting on a supply that is worth clips and proof, where the rest of it follows another day')]
    public const SITTING_MIN = 30;
}
