<?php

declare(strict_types=1);

namespace Heartwood\Core\Work;

use Heartwood\Core\Repair\Options;
use Heartwood\Core\Repair\RepairAction;

/**
 * What the work has proved of what was found: answered by the plan, its work done, and gone from the verdict that was given afterwards.
 * A person says at the closing whether it was so; this is what is put before them.
 */
final class Proved
{
    /**
     * @param  list<array{code: string, where: array<string, int|string>|null, probability: float, severity: string}>  $before  found
     *   when it was decided
     * @param  list<array{code: string, where: array<string, int|string>|null, probability: float}>|null  $after  of the verdict since;
     *   null: there is none
     * @param  list<array{action: string, where: list<array<string, int|string>>, done: bool}>  $parts  of the plan; done: all that
     *   alters the pack is closed
     * @param  list<string>  $leaves  codes that the plan left
     * @return list<array{code: string, where: array<string, int|string>|null, seen_by: string}>
     */
    public static function of(array $before, ?array $after, array $parts, array $leaves): array
    {
        if ($after === null) {
            return [];
        }
        $still = array_map(fn(array $f): string => self::key($f), $after);
        $out = [];
        foreach ($before as $f) {
            if (
                $f['probability'] < Options::ACT ||
                $f['severity'] === 'note' ||
                in_array($f['code'], $leaves, true) ||
                in_array(self::key($f), $still, true)
            ) {
                continue;
            }
            foreach ($parts as $p) {
                $at = $p['where'] === [] || $f['where'] === null || in_array($f['where'], $p['where'], false);
                $seen = $at && $p['done'] ? self::seenBy(RepairAction::from($p['action'])) : null;
                if ($seen !== null) {
                    $out[] = ['code' => $f['code'], 'where' => $f['where'], 'seen_by' => $seen];

                    break;
                }
            }
        }

        return $out;
    }

    /** How such work shows that it was so; null where it shows nothing of the pack. */
    private static function seenBy(RepairAction $action): ?string
    {
        return match ($action) {
            RepairAction::ReplaceCell,
            RepairAction::ReplaceGroup,
            RepairAction::ReplaceBoard,
            RepairAction::ReplaceCharger,
            RepairAction::Rebuild
                => 'replaced',
            RepairAction::Reweld, RepairAction::CleanJoint, RepairAction::RepairSense, RepairAction::RepairPath => 'opened',
            RepairAction::RelearnGauge => 'measured',
            RepairAction::ChargeGroup,
            RepairAction::Balance,
            RepairAction::ChargePack,
            RepairAction::RecoverGroup,
            RepairAction::RecoverPack,
            RepairAction::WakeBoard,
            RepairAction::RepairLoad
                => 'tried',
            default => null,
        };
    }

    /** @param  array{code: string, where: array<string, int|string>|null}  $f */
    private static function key(array $f): string
    {
        return $f['code'] . json_encode($f['where']);
    }
}
