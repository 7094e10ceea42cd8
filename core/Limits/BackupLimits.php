<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** Numbers of backups: which are kept, and from when on the last good one is too old. */
final class BackupLimits
{
    #[Limit('d', 'assumed: days of which the latest backup is kept')]
    public const DAYS = 7;

    #[Limit('wk', 'assumed: weeks of which the latest backup is kept')]
    public const WEEKS = 4;

    #[Limit('mo', 'assumed: months of which the latest backup is kept')]
    public const MONTHS = 6;

    #[Limit('h', 'assumed: a last good backup that is older is no longer a nightly one')]
    public const OLD_H = 36.0;
}
