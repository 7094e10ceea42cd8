<?php

declare(strict_types=1);

namespace Heartwood\Core\Backup;

use Heartwood\Core\Limits\BackupLimits;

/** Which backups are kept: the latest of each of the last days, weeks and months in which there was one. */
final class Retention
{
    /**
     * @param  array<string, \DateTimeImmutable>  $taken  by name
     * @return list<string> names that may go, the oldest first; never the latest
     */
    public static function outdated(array $taken): array
    {
        uasort($taken, fn(\DateTimeImmutable $a, \DateTimeImmutable $b): int => $b <=> $a);
        $keep = [];
        foreach ([['Y-m-d', BackupLimits::DAYS], ['o-W', BackupLimits::WEEKS], ['Y-m', BackupLimits::MONTHS]] as [$period, $most]) {
            $seen = [];
            foreach ($taken as $name => $at) {
                $of = $at->format($period);
                if (!isset($seen[$of]) && count($seen) < $most) {
                    $seen[$of] = true;
                    $keep[$name] = true;
                }
            }
        }

        return array_values(array_reverse(array_diff(array_keys($taken), array_keys($keep))));
    }

    /** Whether the last good one is too old to be called nightly. */
    public static function isOld(\DateTimeImmutable $last, \DateTimeImmutable $now): bool
    {
        return $now->getTimestamp() - $last->getTimestamp() > BackupLimits::OLD_H * self::HOUR_S;
    }

    private const HOUR_S = 3600;
}
