<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Maths\Tiny;

/** What holds for cells in one build, whoever dealt them (handbook "Grading and matching"). */
final class HardLimits
{
    /**
     * @param  list<list<DrawerCell>>  $groups
     *
     * @throws CannotMatch a cell twice, another chemistry or full voltage, or resistances too far apart in a group
     */
    public static function check(array $groups, int $series, int $parallel, float $ratio): void
    {
        if (count($groups) > $series) {
            throw new CannotMatch(sprintf('This build has %d groups, not %d.', $series, count($groups)), 'leave out the groups over it');
        }
        $seen = [];
        foreach ($groups as $k => $cells) {
            if (count($cells) > $parallel) {
                throw new CannotMatch(
                    sprintf('Group %d has %d cells, %d go into a group.', $k + 1, count($cells), $parallel),
                    'take the others out',
                );
            }
            foreach ($cells as $c) {
                if (isset($seen[$c->id])) {
                    throw new CannotMatch("Cell $c->id is in this build twice.", 'put another cell in one of the places');
                }
                $seen[$c->id] = true;
            }
            $r = array_map(fn(DrawerCell $c): float => $c->mohm, $cells);
            if ($r !== [] && max($r) > $ratio * min($r) * (1 + Tiny::SLACK)) {
                throw new CannotMatch(
                    sprintf('Resistances in group %d are %.2f to one, %.2f is the limit.', $k + 1, max($r) / min($r), $ratio),
                    'exchange the cell that stands out, or allow a wider ratio and say so',
                );
            }
        }
        $kinds = self::kinds(array_merge(...$groups));
        if (count($kinds) > 1) {
            throw new CannotMatch('Cells of different chemistry or full voltage: ' . implode(', ', $kinds) . '.', 'one kind in a build');
        }
    }

    /**
     * Chemistries and full voltages that are apart; a full voltage that nobody said is apart from none.
     *
     * @param  list<DrawerCell>  $cells
     * @return list<string>
     */
    public static function kinds(array $cells): array
    {
        $chemistries = array_values(array_unique(array_map(fn(DrawerCell $c): string => $c->chemistry, $cells)));
        if (count($chemistries) > 1) {
            return $chemistries;
        }
        $volts = array_unique(array_filter(array_map(fn(DrawerCell $c): ?float => $c->fullV, $cells), fn(?float $v): bool => $v !== null));

        return count($volts) < 2 ? $chemistries : array_values(array_map(fn(float $v): string => sprintf('to %.2f V', $v), $volts));
    }
}
