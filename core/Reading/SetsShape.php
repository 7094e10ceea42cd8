<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

/** What the line of one group does from set to set. */
enum SetsShape: string
{
    case Falls = 'falls';
    case Rises = 'rises';
    case Turns = 'turns';
    case Stands = 'stands';
    case Level = 'level';

    /**
     * What it tells, in a sentence; null of a level line.
     *
     * @param  float  $mv  what the line does, in millivolts
     */
    public function sentence(int $group, float $mv): ?string
    {
        $by = sprintf('%.0f mV', abs($mv));

        return match ($this) {
            self::Falls => "Group $group falls $by against the others from rest to rest: a leak is a slope.",
            self::Rises => "Group $group comes up $by against the others from rest to rest: it was filled, or they were drawn.",
            self::Turns => "Group $group turns over by $by with the current: resistance does, charge does not.",
            self::Stands => sprintf(
                'Group %d stands %s %s in every set: charge, or what it holds.',
                $group,
                $by,
                $mv > 0 ? 'over' : 'under',
            ),
            self::Level => null,
        };
    }
}
