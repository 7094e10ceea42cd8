<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

/**
 * A dump of the registers of the public Smart Battery Data Specification, revision 1.1: register and value a line, hex
 * or decimal. Capacities come in mAh or in units of 10 mWh as BatteryMode says.
 */
final readonly class SmartBattery
{
    private const NAMES = [
        0x03 => 'battery mode',
        0x08 => 'temperature',
        0x09 => 'voltage',
        0x0a => 'current',
        0x0b => 'average current',
        0x0c => 'max error',
        0x0d => 'relative charge',
        0x0e => 'absolute charge',
        0x0f => 'remaining capacity',
        0x10 => 'full charge capacity',
        0x14 => 'charging current',
        0x15 => 'charging voltage',
        0x16 => 'battery status',
        0x17 => 'cycle count',
        0x18 => 'design capacity',
        0x19 => 'design voltage',
        0x1a => 'specification info',
        0x1b => 'manufacture date',
        0x1c => 'serial number',
    ];

    private const STATUS = [
        0x8000 => 'over-charged alarm',
        0x4000 => 'terminate-charge alarm',
        0x1000 => 'over-temperature alarm',
        0x0800 => 'terminate-discharge alarm',
        0x0200 => 'remaining-capacity alarm',
        0x0100 => 'remaining-time alarm',
        0x0080 => 'initialized',
        0x0040 => 'discharging',
        0x0020 => 'fully charged',
        0x0010 => 'fully discharged',
    ];

    /** Group volts sit in the optional maker's registers, highest register first group, in most dumps: assumed. */
    private const CELLS = [0x3f, 0x3e, 0x3d, 0x3c];

    /**
     * @param  list<array{register: int, name: string, value: string}>  $rows
     * @param  list<float>  $groupsV  assumed order, from B-
     * @param  list<string>  $status
     * @param  array<string, float|bool>|null  $gauge  the record's `gauge` test; null when capacities are absent
     * @param  list<string>  $errors  by line
     */
    private function __construct(
        public array $rows,
        public array $groupsV,
        public array $status,
        public ?array $gauge,
        public ?float $volts,
        public ?float $amps,
        public ?int $cycles,
        public array $errors,
    ) {}

    public static function parse(string $dump): self
    {
        $raw = $errors = [];
        foreach (preg_split('/\R/', trim($dump)) ?: [] as $n => $line) {
            $line = trim((string) preg_replace('/[#;].*$|\/\/.*$/', '', $line));
            if ($line === '') {
                continue;
            }
            if (!preg_match('/^(0x[0-9a-f]{1,2}|\d{1,3})\s*[:=,\t ]+\s*(0x[0-9a-f]{1,4}|-?\d{1,5})\b/i', $line, $m)) {
                $errors[] = sprintf('line %d is not a register and a value: "%s"', $n + 1, mb_substr($line, 0, 40));

                continue;
            }
            $raw[self::number($m[1])] = self::number($m[2]) & 0xffff;
        }
        $mw = (($raw[0x03] ?? 0) & 0x8000) !== 0;
        $volts = isset($raw[0x09]) ? $raw[0x09] / 1000 : null;
        $design = isset($raw[0x19]) ? $raw[0x19] / 1000 : null;
        $wh = fn(int $r): ?float => !isset($raw[$r])
            ? null
            : ($mw
                ? $raw[$r] / 100
                : ($design === null
                    ? null
                    : ($raw[$r] / 1000) * $design));
        $gauge =
            $wh(0x10) !== null && $wh(0x18) !== null
                ? array_filter(
                    [
                        'full_charge_wh' => round($wh(0x10), 2),
                        'design_wh' => round($wh(0x18), 2),
                        'reported_soc' => isset($raw[0x0d]) ? $raw[0x0d] / 100 : null,
                    ],
                    fn(?float $x): bool => $x !== null,
                )
                : null;
        $rows = [];
        foreach ($raw as $register => $value) {
            $rows[] = [
                'register' => $register,
                'name' =>
                    self::NAMES[$register] ??
                    (in_array($register, self::CELLS, true) ? 'maker\'s own (group volts, assumed)' : 'not of the specification'),
                'value' => self::shown($register, $value, $mw),
            ];
        }
        $groups = [];
        foreach (self::CELLS as $register) {
            if (isset($raw[$register]) && $raw[$register] > 500 && $raw[$register] < 5000) {
                $groups[] = $raw[$register] / 1000;
            }
        }
        $status = [];
        foreach (self::STATUS as $bit => $name) {
            if ((($raw[0x16] ?? 0) & $bit) !== 0) {
                $status[] = $name;
            }
        }

        return new self(
            $rows,
            $groups,
            $status,
            $gauge,
            $volts,
            isset($raw[0x0a]) ? self::signed($raw[0x0a]) / 1000 : null,
            $raw[0x17] ?? null,
            $errors,
        );
    }

    private static function number(string $text): int
    {
        return str_starts_with(strtolower($text), '0x') ? (int) hexdec(substr($text, 2)) : (int) $text;
    }

    private static function signed(int $value): int
    {
        return $value >= 0x8000 ? $value - 0x10000 : $value;
    }

    private static function shown(int $register, int $value, bool $mw): string
    {
        return match ($register) {
            0x08 => sprintf('%.1f degC', $value / 10 - 273.15),
            0x09, 0x15, 0x19, 0x3c, 0x3d, 0x3e, 0x3f => sprintf('%.3f V', $value / 1000),
            0x0a, 0x0b => sprintf('%.3f A', self::signed($value) / 1000),
            0x14 => sprintf('%.3f A', $value / 1000),
            0x0c, 0x0d, 0x0e => "$value %",
            0x0f, 0x10, 0x18 => $mw ? sprintf('%.2f Wh', $value / 100) : sprintf('%.3f Ah', $value / 1000),
            0x1b => sprintf('%04d-%02d-%02d', 1980 + ($value >> 9), ($value >> 5) & 15, $value & 31),
            0x03, 0x16, 0x1a => sprintf('0x%04X', $value),
            default => (string) $value,
        };
    }
}
