<?php

declare(strict_types=1);

namespace Heartwood\Core\Safety;

/** The cautions, and where in the work each belongs (handbook "Cautions shown where they apply"). */
final class Cautions
{
    private const TEXT = [
        'metal' => 'Rings, watches and metal off. Insulated tools.',
        'one-conductor' => 'One conductor at a time; cover what is not worked on; never cut two leads at once.',
        'eyes' => 'Eye protection when opening and welding; keep the knife away from the cells.',
        'heat' => 'No heat on cells: weld, or solder on tabs only.',
        'isolated' => 'Charger, load and sibling packs off and zero current proved, before a clip goes on or a joint is loosened.',
        'attended' => 'Stay with it: fire-safe place, extinguishing means at hand, temperature readable, nobody asleep.',
        'dangerous-goods' => 'A damaged lithium pack is dangerous goods: do not ship or bin it; follow local rules.',
        'conditions' => 'Local law, the insurer\'s and the maker\'s conditions apply to a repaired pack.',
        'advice' => 'The tool advises; the cell maker\'s datasheet, local codes and licensed practice decide.',
    ];

    private const AT = [
        'intake' => ['dangerous-goods', 'advice'],
        'probe' => ['metal', 'isolated', 'one-conductor'],
        'verdict' => ['advice'],
        'plan' => ['advice', 'conditions'],
        'work' => ['metal', 'one-conductor', 'eyes', 'heat', 'isolated', 'attended'],
        'proof' => ['attended', 'advice'],
        'report' => ['dangerous-goods', 'conditions', 'advice'],
    ];

    /** @return list<string> */
    public static function at(string $stage): array
    {
        return array_map(fn(string $key): string => self::TEXT[$key], self::AT[$stage] ?? []);
    }
}
