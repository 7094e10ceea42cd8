<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

/** A number as a person types it at the bench: decimal point or comma, a unit behind it or none. */
final readonly class TypedValue
{
    /** Fewer decimals than this were rounded by the person, not by the meter: no resolution is read from them. */
    private const MOST_DECIMALS = 6;

    private function __construct(public float $volts, public ?float $resolutionV) {}

    /** @return self|null null when it is no number */
    public static function parse(string $typed): ?self
    {
        $text = str_replace([' ', "\u{00A0}", "\u{2212}"], ['', '', '-'], trim($typed));
        if (preg_match('/^([+-]?)(\d{0,4})(?:[.,](\d{0,9}))?(mv|v)?$/Di', $text, $m) !== 1 || ($m[2] === '' && ($m[3] ?? '') === '')) {
            return null;
        }
        $decimals = $m[3] ?? '';
        $scale = strtolower($m[4] ?? '') === 'mv' ? 0.001 : 1.0;
        $volts = (float) (($m[1] === '-' ? '-' : '') . ($m[2] === '' ? '0' : $m[2]) . '.' . ($decimals === '' ? '0' : $decimals)) * $scale;
        $digits = strlen($decimals);

        return new self($volts, $digits >= 2 && $digits <= self::MOST_DECIMALS ? 10 ** -$digits * $scale : null);
    }
}
