<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Fault\Group\Overcharged;
use Heartwood\Core\Fault\Group\Undercharged;
use Heartwood\Core\Inference\GroupBeliefs;
use Heartwood\Core\Record\BenchTest;
use Heartwood\Core\Record\Condition;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Place;

/**
 * What board and charger do to the groups besides keeping the output or the charge off: cut-outs under load, an
 * over-charge that is not stopped, bleeding (handbook "Protection, path, sensing").
 */
final class BoardEngine
{
    /** Volts over the board's own limit from which a charge clearly was not stopped. */
    private const OVERCHARGE_MARGIN = 0.03;

    /** Volts over the low cut at which a group is clearly not the reason for a cut-out. */
    private const CLEAR_OF_CUT = 0.15;

    /** How sure each of two ways of over-current is while nothing of the load is known (assumed). */
    private const OVER_CURRENT = 0.3;

    /** Hours of bleeding over those of a charge from which passive balancing is hopeless. */
    private const HOPELESS_CYCLES = 15.0;

    /** @var list<Finding> */
    private array $findings = [];

    /**
     * @param  array<int, GroupBeliefs>  $groups
     */
    public function __construct(
        private readonly JobRecord $record,
        private readonly PackEvidence $evidence,
        private readonly array $groups,
        private readonly float $drain,
    ) {}

    /** @return list<Finding> */
    public function findings(): array
    {
        $this->cutOuts();
        $this->overcharge();
        $this->balancing();
        $this->drain();

        return $this->findings;
    }

    /** A board that cuts out under load: a group at its limit is its job; below its rating a fault; at its rating too small. */
    private function cutOuts(): void
    {
        $limit = $this->record->pack->bms->float('discharge_limit_a');
        $tests = array_values(
            array_filter($this->record->currentTests('discharge'), fn(BenchTest $t): bool => $t->data->string('stopped_by') === 'bms'),
        );
        foreach ($tests as $t) {
            $amps = max(abs($t->data->float('current_a') ?? 0.0), abs($t->data->float('peak_a') ?? 0.0));
            $volts = array_values(array_filter($t->data->numbers('groups_v'), fn(?float $v): bool => $v !== null));
            $lowest = $volts === [] ? $this->predictedLowest(-$amps) : min($volts);
            if ($lowest === null) {
                continue;
            }
            $clear = $lowest > $this->record->pack->lowCutV() + self::CLEAR_OF_CUT;
            // What the groups would sag to is a guess where they were not read: at its rating a board cuts by itself.
            $guessed = $volts === [] && $limit !== null && $amps >= $limit;
            if (!$clear && !$guessed) {
                continue;
            }
            $text = [
                new Evidence(
                    sprintf('it cuts out at %.1f A with the lowest group at %.2f V', $amps, $lowest),
                    10.0,
                    $volts === [] ? 'derived' : 'measured',
                ),
            ];
            if ($limit === null || $amps <= 0.0) {
                $this->add('bms.trips-early', 'The board cuts out although every group is well above its limit', Place::pack(), 0.5, $text);
            } elseif ($amps >= 0.95 * $limit) {
                $this->add('bms.limit-too-low', 'The board\'s rating is under the load', Place::pack(), $clear ? 0.97 : 0.62, [
                    ...$text,
                    new Evidence(sprintf('it is rated for %.0f A', $limit), 8.0, 'reported'),
                ]);
            } else {
                $bumped = $this->record->says('cuts-out-when-bumped');
                $this->add('bms.trips-early', 'The board cuts out below its rating', Place::pack(), $bumped ? 0.4 : 0.96, [
                    ...$text,
                    new Evidence(sprintf('it is rated for %.0f A', $limit), 8.0, 'reported'),
                ]);
            }
        }
        $this->unnamedCutOuts($tests !== []);
        $load = $this->record->pack->loadAmps();
        if (
            $tests === [] &&
            $limit !== null &&
            $load !== null &&
            $load > 1.05 * $limit &&
            $this->record->says('cuts-out-under-load', 'cuts-out-until-reconnected')
        ) {
            $this->add('bms.limit-too-low', 'The board\'s rating is under the load', Place::pack(), 0.9, [
                new Evidence(sprintf('the device draws up to %.0f A, the board is rated for %.0f A', $load, $limit), 9.0, 'derived'),
            ]);
        }
    }

    /**
     * Cut-outs until it is put on the charger again, every group sound and nothing of the load known: over-current, one way or the
     * other.
     */
    private function unnamedCutOuts(bool $watched): void
    {
        $limit = $this->record->pack->bms->float('discharge_limit_a');
        $known = $limit !== null && $this->record->pack->loadAmps() !== null;
        $sound =
            array_filter(
                $this->evidence->groups,
                fn(GroupEvidence $e): bool => $e->restV === null || $e->restV < $this->record->pack->lowReleaseV(),
            ) === [];
        if ($watched || $known || !$sound || !$this->record->says('cuts-out-until-reconnected')) {
            return;
        }
        $told = [
            new Evidence('it cuts out and comes back when it is reconnected, and every group is well above its limit', 5.0, 'reported'),
        ];
        $this->add('bms.limit-too-low', 'The load may be over the board\'s rating', Place::pack(), self::OVER_CURRENT, $told);
        $this->add('bms.trips-early', 'The board may cut out below its rating', Place::pack(), self::OVER_CURRENT, $told);
    }

    /** The lowest group under that current, from what was read at rest and under load; null when neither tells. */
    private function predictedLowest(float $amps): ?float
    {
        $lowest = null;
        foreach ($this->evidence->groups as $e) {
            if ($e->restV === null) {
                return null;
            }
            $milliohm =
                max($this->record->pack->groupResistanceMohm(), $this->evidence->middleResistanceMohm ?? 0.0) +
                max(0.0, $e->resistanceMohm);
            $v = $e->restV + ($amps * $milliohm) / 1000;
            $lowest = $lowest === null ? $v : min($lowest, $v);
        }

        return $lowest;
    }

    private function overcharge(): void
    {
        $limit = $this->record->pack->highCutV() + self::OVERCHARGE_MARGIN;
        $worst = null;
        foreach ($this->record->current() as $m) {
            if ($m->condition === Condition::Charge && $m->currentA > 0.05 && !$m->fromBoard) {
                foreach ($this->evidence->solved($m)->read() as $g) {
                    if ($g->volts > $limit + 2 * (float) $g->sigmaV && $g->doubt === null && ($worst === null || $g->volts > $worst[1])) {
                        $worst = [$g->group, (float) $g->volts];
                    }
                }
            }
        }
        foreach ($this->record->currentTests('charge') as $t) {
            foreach ($t->data->numbers('groups_v') as $i => $v) {
                if ($v !== null && $v > $limit + 0.02 && ($worst === null || $v > $worst[1])) {
                    $worst = [$i + 1, $v];
                }
            }
        }
        if ($worst !== null) {
            $this->add('bms.no-overcharge-cut', 'The board does not stop a group that is past full', Place::pack(), 0.97, [
                new Evidence(
                    sprintf(
                        'group %d stands at %.3f V while charge flows, the board should cut at %.2f V',
                        $worst[0],
                        $worst[1],
                        $this->record->pack->highCutV(),
                    ),
                    18.0,
                ),
            ]);
        }
    }

    /** A gap that the board's bleed cannot close in any reasonable number of charges. */
    private function balancing(): void
    {
        $bleed = $this->record->pack->bms->float('balance_current_a');
        $capacity = $this->record->pack->groupCapacityAh();
        $charger = $this->record->pack->charger->float('cc_a');
        if ($bleed === null || $bleed <= 0 || $capacity === null) {
            return;
        }
        $gap = $sure = 0.0;
        foreach ($this->groups as $k => $g) {
            $imbalance = $g->p(Undercharged::CODE) + $g->p(Overcharged::CODE);
            $charge = $this->evidence->groups[$k - 1]->charge;
            if ($charge !== null && $imbalance > 0.3 && abs($charge) > $gap) {
                $gap = abs($charge);
                $sure = $imbalance;
            }
        }
        $hours = ($gap * $capacity) / $bleed / 0.2;
        $cycle = $charger !== null && $charger > 0 ? $capacity / $charger + 1 : 5.0;
        if ($hours / $cycle > self::HOPELESS_CYCLES) {
            $this->add('bms.balance-insufficient', 'The board\'s bleed is too small for this gap', Place::pack(), 0.9 * $sure, [
                new Evidence(
                    sprintf('%.1f Ah apart at %.0f mA of bleed: about %.0f hours of charging', $gap * $capacity, 1000 * $bleed, $hours),
                    5.0,
                    'derived',
                ),
            ]);
            if ($charger !== null && $charger > 3 * $bleed && $this->record->says('charger-full-at-once', 'dies-early')) {
                $this->add('charger.outruns-balance', 'The charger outruns the balancing', Place::pack(), 0.8 * $sure, [
                    new Evidence(sprintf('%.1f A of charge against %.0f mA of bleed', $charger, 1000 * $bleed), 4.0, 'derived'),
                ]);
            }
        }
    }

    /** Groups at one end that sink together: the board feeds from them. One that sinks only with the plug in: its bleed is stuck. */
    private function drain(): void
    {
        foreach ($this->evidence->bleeding as $k => [$in, $out]) {
            $this->add('bms.bleed-stuck', "The balance switch of group $k is stuck on", Place::pack(), 0.97, [
                new Evidence(
                    sprintf('group %d sinks %.1f %% a day with the sense plug in, %.1f %% with it out', $k, 100 * $in, 100 * $out),
                    15.0,
                    'derived',
                ),
            ]);
        }
        $run = $this->evidence->drainRun ?? $this->evidence->lowEnd();
        if ($run === null || $this->drain < Finding::LISTED) {
            return;
        }
        [$from, $to, $gap] = $run;
        $this->add('bms.drain', 'The board feeds from the groups at one end', Place::pack(), $this->drain, [
            new Evidence(
                sprintf('groups %d to %d are evenly %.0f %% lower in charge than the rest', $from, $to, 100 * $gap),
                8.0,
                'derived',
            ),
            ...$this->evidence->drainByPlug === true
                ? [new Evidence('they sink together with the sense plug in and not with it out', 18.0, 'derived')]
                : [],
        ]);
    }

    /** @param  list<Evidence>  $evidence */
    private function add(string $code, string $title, Place $place, float $p, array $evidence): void
    {
        if ($p >= Finding::LISTED) {
            $this->findings[] = new Finding(
                $code,
                $title,
                $place,
                $p,
                Severity::of($code),
                $evidence === [] ? [new Evidence('only how often packs fail this way', 0.0, 'assumed')] : $evidence,
            );
        }
    }
}
