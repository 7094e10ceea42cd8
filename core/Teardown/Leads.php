<?php

declare(strict_types=1);

namespace Heartwood\Core\Teardown;

/** Leads whose colour says one thing and whose measurement another. Colour proves nothing; what was measured counts. */
final class Leads
{
    /** Volts against B- under which a lead sits at B-: a meter's noise (assumed). */
    public const AT_MINUS_V = 0.05;

    /**
     * @param  list<Step>  $steps
     * @return list<string>
     */
    public static function warnings(array $steps): array
    {
        $out = [];
        foreach ($steps as $s) {
            if ($s->part !== Part::Lead) {
                continue;
            }
            $words = explode(' ', Step::plain($s->what));
            $out[] = match (true) {
                $s->volts === null => "{$s->words()}: its polarity was not measured.",
                in_array('red', $words, true) && $s->volts < self::AT_MINUS_V => sprintf(
                    '%s is red and reads %.3g V against B-: it is not positive.',
                    ucfirst($s->words()),
                    $s->volts,
                ),
                in_array('black', $words, true) && $s->volts > self::AT_MINUS_V => sprintf(
                    '%s is black and reads %.3g V against B-: it is not B-.',
                    ucfirst($s->words()),
                    $s->volts,
                ),
                default => '',
            };
        }

        return array_values(array_filter($out));
    }
}
