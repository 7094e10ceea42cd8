<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

/**
 * Which way a step's name says that the current flows, in the words and short forms of many testers and tongues; the voltage has the
 * last word, where it moved.
 */
final class Directions
{
    private const OUT = '/dis|dch|dsg|entl|d[ée]c?h(?:a|g)|descar|scari|ontla|roz[łl]ad|vyb[ií]j|urlad|aflad|purk|kis[üu]t|разр|放/iu';

    private const IN = '/ch(?:a|g|rg)|lad|laad|carg|caric|nab[ií]j|latau|t[öo]lt|заря|зар|充|^cc[-_ ]?cv$/iu';

    private const SHORT = ['d' => -1, 'c' => 1, 'e' => -1, 'l' => 1, '-' => -1, '+' => 1, 'out' => -1, 'in' => 1];

    /** @return -1|0|1 out, not said, in */
    public static function said(string $name): int
    {
        $name = mb_strtolower(trim($name));

        return match (true) {
            isset(self::SHORT[$name]) => self::SHORT[$name],
            preg_match(self::OUT, $name) === 1 => -1,
            preg_match(self::IN, $name) === 1 => 1,
            default => 0,
        };
    }
}
