<?php

declare(strict_types=1);

namespace Heartwood\Core\Safety;

use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Record\Fields;

/** What eyes, hand, nose and the customer's story make of a pack before anything is measured (handbook "Triage"). */
final readonly class Triage
{
    private const QUARANTINE = [
        'swollen' => 'a cell or the case is swollen',
        'leaking' => 'a cell leaks',
        'venting' => 'a cell vents or hisses',
        'smell' => 'it smells sweet or sharp',
        'punctured' => 'it is punctured',
        'warm_at_rest' => 'it is warm with no current, or warming',
        'salt_water' => 'salt water has been in it',
    ];

    private const HOLD = [
        'crushed' => 'it has been crushed',
        'burnt' => 'it is burnt',
        'wet' => 'it has been wet: open, dry and inspect first',
    ];

    private const REPORTED_QUARANTINE = [
        'swelling' => 'the customer reports swelling',
        'smell' => 'the customer reports a smell',
        'hot' => 'the customer reports heat',
    ];

    private const REPORTED_HOLD = [
        'short-circuited' => 'it has been short-circuited: the cause must be named before return',
        'dropped' => 'it has been dropped',
        'hot-on-charge' => 'it gets hot on charge: no charge until the cause is known',
        'wet' => 'the customer reports water: open, dry and inspect first',
    ];

    /**
     * @param  list<string>  $reasons  why it is not clear
     * @param  list<string>  $rules  what holds even when it is clear
     */
    private function __construct(public SafetyState $state, public array $reasons, public array $rules) {}

    /**
     * @param  Fields  $inspection  the inspection of a job record
     * @param  list<string>  $symptoms  reported symptom codes
     * @param  float  $fullVolts  series count times full voltage per cell
     * @param  list<string>  $released  what a senior has decided since: these keys no longer hold the pack
     */
    public static function assess(Fields $inspection, array $symptoms, float $fullVolts, array $released = []): self
    {
        $state = SafetyState::Clear;
        $reasons = $rules = [];
        $inspected = fn(string $key): bool => $inspection->bool($key) === true && !in_array($key, $released, true);
        $reported = fn(string $key): bool => in_array($key, $symptoms, true) && !in_array($key, $released, true);
        if (self::bulges($inspection) && !in_array('swollen', $released, true) && $inspection->bool('swollen') !== true) {
            $state = SafetyState::Quarantine;
            $reasons[] = sprintf(
                '%.1f mm thick where %.1f mm are drawn: swollen',
                $inspection->float('thickness_mm'),
                $inspection->float('drawn_thickness_mm'),
            );
        }
        foreach (
            [
                [self::QUARANTINE, SafetyState::Quarantine, $inspected],
                [self::REPORTED_QUARANTINE, SafetyState::Quarantine, $reported],
                [self::HOLD, SafetyState::Hold, $inspected],
                [self::REPORTED_HOLD, SafetyState::Hold, $reported],
            ]
            as [$table, $as, $present]
        ) {
            foreach ($table as $key => $text) {
                if ($present($key)) {
                    $state = $state->worse($as);
                    $reasons[] = $text;
                }
            }
        }
        if ($fullVolts > VerdictLimits::HIGH_VOLTAGE_V) {
            $rules[] = sprintf(
                '%.1f V when full is high voltage: insulated gloves and tools, a second person, or refuse the job',
                $fullVolts,
            );
        }
        $bulge = self::bulge($inspection);
        if ($bulge !== null && $bulge > 0.0 && !self::bulges($inspection)) {
            $rules[] = sprintf(
                'bulges %.1f %% over its drawing: up to %.0f %% is a note, to be measured again',
                100 * $bulge,
                100 * VerdictLimits::BULGE_SHARE,
            );
        }
        if ($inspection->bool('metal_case') === true) {
            $rules[] = 'metal case: measure the insulation from case to terminals before touching';
        }

        return new self($state, $reasons, $rules);
    }

    /** @return 'quarantine'|'hold'|'note' what a yes to this question does to the pack */
    public static function means(string $key): string
    {
        return isset(self::QUARANTINE[$key]) ? 'quarantine' : (isset(self::HOLD[$key]) ? 'hold' : 'note');
    }

    /**
     * What two people answer is added up: a "yes" that holds a pack is not undone by a "no", which may be older than it.
     * It is taken back as entered by mistake, by a senior.
     *
     * @param  array<string, mixed>  $known
     * @param  array<string, mixed>  $answers
     * @return array<string, mixed>
     */
    public static function merge(array $known, array $answers): array
    {
        foreach ($answers as $key => $answer) {
            $holds = isset((self::QUARANTINE + self::HOLD)[$key]);
            if (!$holds || ($known[$key] ?? null) !== true) {
                $known[$key] = $answer;
            }
        }

        return $known;
    }

    /**
     * @param  list<string>  $known
     * @param  list<string>  $reported
     * @param  list<string>  $withdrawn
     * @return list<string>
     */
    public static function mergeSymptoms(array $known, array $reported, array $withdrawn): array
    {
        $stays = array_keys(self::REPORTED_QUARANTINE + self::REPORTED_HOLD);

        return array_values(array_unique([...array_diff($known, array_diff($withdrawn, $stays)), ...$reported]));
    }

    /** Whether a prismatic cell is thicker than its drawing lets it be; false where either was not measured. */
    private static function bulges(Fields $inspection): bool
    {
        $is = $inspection->float('thickness_mm');
        $drawn = $inspection->float('drawn_thickness_mm');

        return $is !== null && $drawn !== null && $is > (1 + VerdictLimits::BULGE_SHARE) * $drawn;
    }

    /** Share by which a flat cell is thicker than drawn, null where either was not measured. */
    public static function bulge(Fields $inspection): ?float
    {
        $is = $inspection->float('thickness_mm');
        $drawn = $inspection->float('drawn_thickness_mm');

        return $is === null || $drawn === null || $drawn <= 0.0 ? null : $is / $drawn - 1.0;
    }

    /**
     * Answers as they are kept: what an eye calls swollen and a calliper measures within the note is not swollen. Only in one entry: a
     * "yes" that stands is taken back by a senior.
     *
     * @param  array<string, mixed>  $answers
     * @return array<string, mixed>
     */
    public static function measured(array $answers): array
    {
        $said = new Fields($answers);
        if (($answers['swollen'] ?? null) === true && self::bulge($said) !== null && !self::bulges($said)) {
            $answers['swollen'] = false;
        }

        return $answers;
    }

    /**
     * The keys behind a state, for whoever decides about them.
     *
     * @param  list<string>  $symptoms
     * @return list<string>
     */
    public static function keys(Fields $inspection, array $symptoms): array
    {
        $seen = array_filter(
            array_keys(self::QUARANTINE + self::HOLD),
            fn(string $key): bool => $inspection->bool($key) === true || ($key === 'swollen' && self::bulges($inspection)),
        );
        $told = array_intersect(array_keys(self::REPORTED_QUARANTINE + self::REPORTED_HOLD), $symptoms);

        return array_values(array_unique([...$seen, ...$told]));
    }
}
