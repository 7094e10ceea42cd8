<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Record\Places;

/** What more than one guided run needs, and watches. */
final class Ready
{
    /** Every group was read at rest, as the pack is. */
    public static function read(Course $c): Needs
    {
        $unread = self::groups($c, fn(?float $v): bool => $v === null);

        return $unread === []
            ? new Needs('Every group is read at rest.', true)
            : new Needs(
                'Not read at rest: ' . (count($unread) === 1 ? 'group ' : 'groups ') . implode(', ', $unread) . '.',
                false,
                'probe',
                'Read the groups',
            );
    }

    /** No group is so low that only a slow recovery may charge it. */
    public static function chargeable(Course $c): Needs
    {
        $low = self::groups($c, fn(?float $v): bool => $v !== null && $v < $c->pack->profile()->prechargeV);

        return $low === []
            ? new Needs(sprintf('No group is under %.2f V.', $c->pack->profile()->prechargeV), true)
            : new Needs(
                sprintf(
                    'Group %s is under %.2f V: it is recovered or replaced first.',
                    implode(', ', $low),
                    $c->pack->profile()->prechargeV,
                ),
                false,
                'supply?do=recover',
                'Recover it',
            );
    }

    /** No group is at the board's low cut already. */
    public static function dischargeable(Course $c): Needs
    {
        $low = self::groups($c, fn(?float $v): bool => $v !== null && $v <= $c->pack->lowCutV() + Tiny::COARSE);

        return $low === []
            ? new Needs(sprintf('Every group is over %.2f V, the low cut.', $c->pack->lowCutV()), true)
            : new Needs(self::are($low) . ' at the low cut already: charge first.', false, 'supply', 'Charge it');
    }

    /** @return list<string> what ends a charge or a discharge for warmth or cold */
    public static function warm(Course $c, bool $charge): array
    {
        [$coldest, $hottest, $over] = $charge
            ? [RunLimits::CHARGE_COLDEST_C, RunLimits::CHARGE_HOTTEST_C, RunLimits::CHARGE_OVER_AMBIENT_K]
            : [RunLimits::DISCHARGE_COLDEST_C, RunLimits::DISCHARGE_HOTTEST_C, RunLimits::DISCHARGE_OVER_AMBIENT_K];

        return [sprintf('Ends at once: any cell over %.0f degC, %.0f K over the room, or under %.0f degC.', $hottest, $over, $coldest)];
    }

    /** @param  list<int>  $groups */
    private static function are(array $groups): string
    {
        return ucfirst(Places::of('group', $groups)) . (count($groups) === 1 ? ' is' : ' are');
    }

    /**
     * @param  callable(float|null): bool  $is
     * @return list<int>
     */
    private static function groups(Course $c, callable $is): array
    {
        $out = [];
        foreach ($c->evidence->groups as $g) {
            if ($is($g->restV)) {
                $out[] = $g->group;
            }
        }

        return $out;
    }
}
