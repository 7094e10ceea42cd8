<?php

declare(strict_types=1);

namespace Heartwood\Core\Recovery;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Record\PackSpec;

/**
 * The logged exception: a pack charged past its board at C/20 or less, every group read at least once a minute
 * (handbook "Recovery of a deep-discharged group"). Never offered; refused while any group is ineligible.
 */
final readonly class BypassRules
{
    /** What a shop is told that does not make this exception, before it asks and when it does. */
    public const NOT_PRACTISED =
        'This shop does not charge a pack past its board: groups charge unseen. The owner may allow it as a logged ' .
        'exception in Settings, under Schools of thought.';

    /** What rounding may add to amps that were worked out from the same limit. */
    private const ROUNDED = 1.001;

    /**
     * @param  list<float|null>  $groups  volts of every group, null where unread
     * @param  bool  $practised  whether the shop makes this exception at all (handbook "Schools of thought")
     * @param  list<int>  $ineligible  groups that the verdict calls dead, reversed or damaged
     * @return list<string> why it may not start; empty when a senior may start it
     */
    public static function refuses(
        PackSpec $pack,
        array $groups,
        array $ineligible,
        bool $senior,
        string $reason,
        float $amps,
        bool $practised,
    ): array {
        if (!$practised) {
            return [self::NOT_PRACTISED];
        }
        $out = [];
        if (!$senior) {
            $out[] = 'Only a senior may start it.';
        }
        if (mb_strlen(trim($reason)) < 10) {
            $out[] = 'Say why, in words: it stays on the report.';
        }
        if ($ineligible !== []) {
            $out[] = 'Group ' . implode(', ', $ineligible) . ' cannot be charged at all.';
        }
        foreach ($groups as $k => $v) {
            if ($v === null) {
                $out[] = sprintf('Group %d has not been read.', $k + 1);
            } elseif ($v < $pack->profile()->floorV) {
                $out[] = sprintf('Group %d stands at %.2f V, under the floor of %.2f V.', $k + 1, $v, $pack->profile()->floorV);
            }
        }
        $limit = ($pack->groupCapacityAh() ?? 0.0) * RunLimits::SLOW_C;
        if ($amps > $limit * self::ROUNDED) {
            $out[] = sprintf('At most %.2f A (a twentieth of the capacity).', $limit);
        }

        return $out;
    }
}
