<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Log\GaugeCheck;
use Heartwood\Core\Maths\Normal;
use Heartwood\Core\Pack\LabelCheck;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Record\Place;

/** Findings that stand by themselves: what eyes saw, the label, charger, load, gauge (handbook "Outside the pack"). */
final readonly class OutsideChecks
{
    /** A plain meter on a charger: 0.5 % of reading, 1 sigma (GUM type B). */
    private const METER_SIGMA = 0.0029;

    /** A charger under this share of the pack's full voltage with a load on gives nothing. */
    public const CHARGER_DEAD = 0.3;

    /** And open, of one that gives nothing. */
    public const CHARGER_NOTHING = 0.1;

    /** Share of the pack's voltage that a harness may lose at full load. */
    private const HARNESS_LOSS = 0.05;

    public function __construct(private JobRecord $record, private PackEvidence $evidence) {}

    /** @return list<Finding> */
    public function findings(): array
    {
        return [...$this->eyes(), ...$this->label(), ...$this->charger(), ...$this->load(), ...$this->gauge()];
    }

    /** @return list<Finding> */
    private function eyes(): array
    {
        $out = [];
        $i = $this->record->inspection;
        $see = function (string $code, string $title, string $text, bool $told = false) use (&$out): void {
            $out[] = new Finding($code, $title, Place::pack(), 0.98, Severity::Stop, [
                new Evidence($text, 20.0, $told ? 'reported' : 'measured'),
            ]);
        };
        if ($i->bool('swollen') === true || $this->record->says('swelling')) {
            $see(
                'cell.swollen',
                'A cell is swollen',
                $i->bool('swollen') === true ? 'seen at inspection' : 'reported by the customer',
                $i->bool('swollen') !== true,
            );
        }
        if ($i->bool('leaking') === true || $i->bool('venting') === true) {
            $see('cell.leaking', 'A cell leaks or vents', 'seen at inspection');
        }
        if ($i->bool('smell') === true && $i->bool('leaking') !== true && $i->bool('venting') !== true) {
            $out[] = new Finding('cell.leaking', 'It smells: a cell may leak or vent', Place::pack(), 0.7, Severity::Stop, [
                new Evidence('smelt at inspection', 10.0),
            ]);
        }
        if ($i->bool('warm_at_rest') === true) {
            $see('cell.hot', 'Warm with no current', 'felt at inspection');
        } elseif ($this->record->says('hot')) {
            $see('cell.hot', 'It gets hot, and nobody said when', 'reported by the customer', true);
        }
        $bulge = $this->bulge();
        if ($bulge !== null && $bulge > VerdictLimits::BULGE_SHARE && $i->bool('swollen') !== true) {
            $see('cell.swollen', 'A cell is swollen', sprintf('%.1f %% thicker than drawn', 100 * $bulge));
        }

        return $out;
    }

    /** How much thicker than its drawing, as a fraction; null where either was not measured. */
    private function bulge(): ?float
    {
        $is = $this->record->inspection->float('thickness_mm');
        $drawn = $this->record->inspection->float('drawn_thickness_mm');

        return $is === null || $drawn === null ? null : $is / $drawn - 1;
    }

    /** @return list<Finding> */
    private function label(): array
    {
        $mismatches = LabelCheck::mismatches($this->record->pack, $this->record->inspection->int('cells_counted'));

        return $mismatches === []
            ? []
            : [
                new Finding(
                    'label.inconsistent',
                    'The label does not add up',
                    Place::pack(),
                    0.97,
                    Severity::Note,
                    array_map(fn(array $m): Evidence => new Evidence($m['text'], 13.0, 'derived'), $mismatches),
                ),
            ];
    }

    /** @return list<Finding> */
    private function charger(): array
    {
        $out = [];
        $pack = $this->record->pack;
        $full = $pack->fullVolts();
        $seen = null;
        $stages = [];
        foreach ($this->record->currentTests('charger') as $t) {
            $seen = $t->data->float('open_v') ?? $seen;
            $stages = [...$stages, ...$t->data->strings('stages')];
            $loaded = $t->data->float('loaded_v');
            if (
                ($loaded !== null && $loaded < self::CHARGER_DEAD * $full) ||
                ($loaded === null && $seen !== null && $seen < self::CHARGER_NOTHING * $full)
            ) {
                $out[] = new Finding('charger.dead', 'The charger gives nothing', Place::pack(), 0.96, Severity::Fix, [
                    new Evidence(sprintf('%.1f V %s', $loaded ?? $seen, $loaded !== null ? 'under load' : 'open'), 15.0),
                ]);
                $seen = null;
            }
        }
        $trial = ChargerTrial::of($this->record);
        $stages = [...$stages, ...$trial->stages];
        $seen ??= $trial->endV;
        $measured = $seen !== null;
        $volts = $seen ?? $pack->charger->float('cv_v');
        if ($volts !== null) {
            $sigma = self::METER_SIGMA * $full;
            $over = Normal::cumulative(($volts - $pack->chargerMostV()) / $sigma);
            $under = Normal::cumulative(($pack->chargerLeastV() - $volts) / $sigma);
            $p = max($over, $under) * ($measured ? 0.98 : 0.9);
            if ($p >= Finding::LISTED) {
                $out[] = new Finding(
                    'charger.wrong-voltage',
                    $over > $under ? 'The charger\'s voltage is too high' : 'The charger\'s voltage is too low',
                    Place::pack(),
                    $p,
                    $over > $under ? Severity::Stop : Severity::Fix,
                    [
                        new Evidence(
                            sprintf(
                                '%s %.2f V where %d groups of %s need %.2f V',
                                $measured ? 'it gives' : 'its plate says',
                                $volts,
                                $pack->series,
                                $pack->chemistry->value,
                                $full,
                            ),
                            10 * log10($p / max(1e-3, 1 - $p)),
                            $measured ? 'measured' : 'assumed',
                        ),
                    ],
                );
            }
        }
        $profile = $pack->charger->string('profile');
        $foreign = array_values(array_intersect($stages, ['equalise', 'desulphate', 'pulse']));
        $wrong = match (true) {
            $foreign !== [] => [0.97, 'its log shows ' . implode(', ', $foreign) . ' stages'],
            $profile === 'lead-acid' => [0.97, 'it is a lead-acid charger'],
            $profile === 'lfp' && !$pack->chemistry->isPhosphate(), $profile === 'li-ion' && $pack->chemistry->isPhosphate() => [
                0.85,
                "its profile is $profile, the pack is {$pack->chemistry->value}",
            ],
            $trial->faults > 0 => [0.97, $trial->sentence()],
            $profile === 'automatic' => [$trial->after(0.4), 'it picks its profile by itself'],
            default => null,
        };
        if ($trial->faults === 0 && $trial->cycles > 0 && $wrong !== null && $profile === 'automatic') {
            $wrong[1] .= '; ' . $trial->sentence();
        }
        if ($wrong !== null) {
            $out[] = new Finding(
                'charger.wrong-profile',
                'The charger is made for another chemistry',
                Place::pack(),
                $wrong[0],
                Severity::Fix,
                [new Evidence($wrong[1], 10.0, $foreign !== [] || $trial->faults > 0 ? 'measured' : 'assumed')],
            );
        }

        return $out;
    }

    /** @return list<Finding> */
    private function load(): array
    {
        $out = [];
        foreach ($this->record->currentTests('load-check') as $t) {
            $ohm = $t->data->float('harness_ohm');
            $runs = $t->data->bool('device_ok');
            $lost = $ohm === null ? 0.0 : ($ohm * $this->loadAmps()) / $this->record->pack->fullVolts();
            if ($ohm !== null && $ohm < 0.005 && $runs !== true) {
                $out[] = new Finding('load.shorted', 'The device or its harness is shorted', Place::pack(), 0.96, Severity::Fix, [
                    new Evidence(sprintf('the harness measures %.3f ohm', $ohm), 8.0),
                ]);
            } elseif ($ohm !== null && ($ohm > 5.0 || $lost > self::HARNESS_LOSS)) {
                $out[] = new Finding(
                    'load.wiring',
                    $ohm > 5.0 ? 'The harness is open' : 'The harness loses too much',
                    Place::pack(),
                    0.97,
                    Severity::Fix,
                    [
                        new Evidence(
                            sprintf(
                                'the harness measures %.3g ohm: %.0f %% of the pack\'s voltage is lost in it at %.3g A',
                                $ohm,
                                100 * min(1.0, $lost),
                                $this->loadAmps(),
                            ),
                            12.0,
                        ),
                    ],
                );
            } elseif ($runs === false) {
                $out[] = new Finding('load.dead', 'The device is at fault', Place::pack(), 0.97, Severity::Fix, [
                    new Evidence('the device does not run on a good supply', 12.0),
                ]);
            }
        }
        $cellA = $this->record->pack->cell->float('max_continuous_a');
        $limit = $this->record->pack->loadAmps();
        $p = $this->record->pack->parallel;
        if ($cellA !== null && $limit !== null && $p !== null && $limit > $cellA * $p) {
            $out[] = new Finding(
                'load.exceeds-cells',
                'The device draws more than the cells are rated for',
                Place::pack(),
                0.96,
                Severity::Fix,
                [new Evidence(sprintf('%.4g A against %.4g A for %d cells in parallel', $limit, $cellA * $p, $p), 10.0, 'derived')],
            );
        }

        return $out;
    }

    /** Amps that the device draws at the most; 2 C and no more than 20 A when nobody wrote it (assumed). */
    private function loadAmps(): float
    {
        $pack = $this->record->pack;

        return $pack->loadAmps() ?? min(20.0, 2 * ($pack->groupCapacityAh() ?? PackSpec::UNKNOWN_AH));
    }

    /** @return list<Finding> */
    private function gauge(): array
    {
        $measuredWh = null;
        foreach ($this->record->currentTests('capacity') as $t) {
            if ($t->place->kind === 'pack') {
                $measuredWh =
                    (float) $t->data->float('measured_ah') * $this->record->pack->series * $this->record->pack->profile()->nominalV;
            }
        }
        $groups = array_filter(
            array_map(fn(GroupEvidence $e): ?float => $e->capacity === null ? null : $e->capacityAh, $this->evidence->groups),
            fn(?float $ah): bool => $ah !== null,
        );
        if ($measuredWh === null && count($groups) === $this->record->pack->series && $groups !== []) {
            // The smallest group ends the discharge of all.
            $measuredWh = min($groups) * $this->record->pack->series * $this->record->pack->profile()->nominalV;
        }
        foreach ($this->record->currentTests('gauge') as $t) {
            $full = $t->data->float('full_charge_wh');
            if ($full !== null && $measuredWh !== null && GaugeCheck::of($full, $measuredWh)['stale']) {
                return [
                    new Finding('gauge.stale', 'The gauge still holds an old capacity', Place::pack(), 0.97, Severity::Watch, [
                        new Evidence(sprintf('the gauge says %.1f Wh, the cells gave %.1f Wh', $full, $measuredWh), 11.0),
                    ]),
                ];
            }
        }
        if ($this->record->says('gauge-wrong', 'gauge-jumps') && $this->record->pack->kind === 'laptop') {
            return [
                new Finding('gauge.stale', 'The gauge may hold an old capacity', Place::pack(), 0.4, Severity::Watch, [
                    new Evidence('the gauge is reported wrong', 4.0, 'reported'),
                ]),
            ];
        }

        return [];
    }
}
