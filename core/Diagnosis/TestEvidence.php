<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Limits\ProtocolLimits;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Record\BenchTest;
use Heartwood\Core\Record\PackSpec;

/** The tests of a record turned into features of the groups and joints they speak of. */
final class TestEvidence
{
    /** 1 sigma of a capacity measured by the book, as a fraction; of one that was not started full (assumed). */
    private const CAPACITY_SIGMA = 0.02;

    private const NOT_FULL_SIGMA = 0.15;

    /** Three groups or more that agree within this share stand for the pack, though most were not measured (assumed). */
    private const AGREE = 0.03;

    /** 1 sigma of a drop across a joint, volts (assumed: a plain meter's last digit). */
    private const DROP_SIGMA_V = 0.0005;

    /** @var array<int, array{float, float, float|null, float}> milliohm, 1 sigma, volts and amps by joint */
    private array $joints = [];

    public function __construct(private readonly EvidenceDraft $pack) {}

    public function read(): void
    {
        $this->readTests();
        $this->judgeDrops();
    }

    /**
     * A drop measured across a joint is the fault itself: bad beyond 3 sigma over three times its like, or over 20 mV or
     * half a watt; with no like joint measured, a quarter of the group's own resistance (handbook "Joint or cell
     * resistance from current").
     */
    private function judgeDrops(): void
    {
        foreach ($this->joints as $tap => [$milliohm, $sigma, $drop, $amps]) {
            $like = array_values(array_map(fn(array $j): float => $j[0], array_diff_key($this->joints, [$tap => 1])));
            $limit =
                count($like) >= 2
                    ? VerdictLimits::JOINT_TIMES_LIKE * max(0.02, Robust::median($like))
                    : VerdictLimits::JOINT_SHARE_OF_GROUP * $this->pack->record->pack->groupResistanceMohm();
            $this->pack->jointDrop[$tap] =
                $milliohm - VerdictLimits::JOINT_SIGMAS * $sigma > $limit ||
                ($drop !== null &&
                    count($like) < 2 &&
                    ($drop > VerdictLimits::JOINT_DROP_V || $drop * $amps > VerdictLimits::JOINT_DROP_W) &&
                    $milliohm - VerdictLimits::JOINT_SIGMAS * $sigma > $limit / 2);
            $this->pack->jointWords[$tap] = sprintf(
                '%.2f mohm across the joint itself, %s',
                $milliohm,
                count($like) >= 2
                    ? sprintf('%.2f mohm across its like', Robust::median($like))
                    : sprintf('%.2f mohm in a whole group', $this->pack->record->pack->groupResistanceMohm()),
            );
        }
    }

    private function readTests(): void
    {
        $capacities = $refills = $resistances = [];
        foreach ($this->pack->record->currentTests() as $t) {
            $k = $t->place->kind === 'group' ? $t->place->number : null;
            if ($t->kind === 'continuity' && $t->data->string('element') === 'joint' && in_array($t->place->kind, ['joint', 'tap'], true)) {
                $this->readJoint($t);
            }
            if ($k === null) {
                continue;
            }
            $e = $this->pack->groups[$k - 1];
            match ($t->kind) {
                'capacity' => ($capacities[$k] = [
                    'ah' => (float) $t->data->float('measured_ah'),
                    'valid' => $t->data->bool('started_full') !== false,
                ]),
                'tug-weld' => ($e->tugLoose = $t->data->bool('loose')),
                'strip-millivolt' => $this->readStrips($e, $t),
                'refill' => ($refills[$k] = [(float) $t->data->float('refill_ah'), (float) $t->data->float('days')]),
                'resistance' => ($resistances[$k] = (float) $t->data->float('mohm')),
                'recovery' => ($e->recovery = RecoveryResponse::judge($t->data, $this->pack->record->pack)),
                default => null,
            };
        }
        $this->readRefills($refills);
        $this->readCellResistance($resistances);
        $this->readStops();
        $this->readPackCapacity();
        if ($capacities === []) {
            return;
        }
        $rated = $this->pack->record->pack->groupCapacityAh();
        $all = array_map(fn(array $c): float => $c['ah'], array_values($capacities));
        // Against its fellows where most were measured: that the whole pack has worn is a finding of its own.
        $most =
            count($all) >= max(3, (int) ceil($this->pack->record->pack->series / 2)) ||
            (count($all) >= 3 && Robust::spread($all, 0.0) < self::AGREE * Robust::median($all));
        $reference = $most ? Robust::median($all) : $rated ?? max($all);
        $spread = $most ? Robust::spread(array_map(fn(float $ah): float => $ah / max(1e-6, $reference), $all), 0.003) : 0.02;
        if ($most && $rated !== null && $reference / $rated < ($this->pack->packCapacity ?? 9.0)) {
            [$this->pack->packCapacity, $this->pack->packCapacitySigma] = [$reference / $rated, self::CAPACITY_SIGMA];
        }
        foreach ($capacities as $k => $c) {
            $e = $this->pack->groups[$k - 1];
            $e->capacityAh = $c['ah'];
            $e->capacity = $c['ah'] / max(1e-6, $reference);
            $e->capacitySigma = $c['valid'] ? self::CAPACITY_SIGMA : self::NOT_FULL_SIGMA;
            // How far healthy fellows stray is known where a dozen of them agree.
            $e->capacitySpread = $most ? $spread : null;
        }
    }

    /** What the whole pack gave, started full, against what is written on it. */
    private function readPackCapacity(): void
    {
        $rated = $this->pack->record->pack->groupCapacityAh();
        foreach ($this->pack->record->currentTests('capacity') as $t) {
            if ($t->place->kind === 'pack' && $t->data->bool('started_full') !== false) {
                $this->pack->packCapacityAh = (float) $t->data->float('measured_ah');
                if ($rated !== null) {
                    [$this->pack->packCapacity, $this->pack->packCapacitySigma] = [
                        $this->pack->packCapacityAh / $rated,
                        self::CAPACITY_SIGMA,
                    ];
                }
            }
        }
    }

    /**
     * Whether one strip carries far less than its share under load.
     *
     * @param  list<float|null>  $millivolts
     */
    private static function deadStrip(array $millivolts, float $current): ?bool
    {
        $read = array_values(
            array_filter(array_map(fn(?float $v): ?float => $v === null ? null : abs($v), $millivolts), fn(?float $v): bool => $v !== null),
        );
        if (count($read) < 2 || abs($current) < 0.5) {
            return null;
        }

        return min($read) < 0.2 * Robust::median($read);
    }

    /** A joint's own drop: what it measures against what a whole group has. */
    private function readJoint(BenchTest $t): void
    {
        $amps = abs($t->data->float('current_a') ?? 0.0);
        $drop = $t->data->float('drop_v');
        $milliohm =
            $t->data->float('ohm') !== null
                ? 1000 * (float) $t->data->float('ohm')
                : ($drop !== null && $amps > 0.2
                    ? (1000 * abs($drop)) / $amps
                    : null);
        if ($milliohm !== null) {
            $sigma = $t->data->float('ohm') !== null ? 0.1 * $milliohm : (1000 * self::DROP_SIGMA_V) / $amps;
            $this->joints[$t->place->number] = [$milliohm, $sigma, $drop === null ? null : abs($drop), $amps];
        }
    }

    /**
     * The strips of one group. Under load a dead branch carries nothing; at rest the leaking cell draws current from
     * the others: one strip into its cell, the rest out of theirs (+ is into the cell).
     */
    private function readStrips(GroupDraft $e, BenchTest $t): void
    {
        $current = $t->data->float('current_a') ?? 0.0;
        $cells = $t->data->numbers('cells_mv');
        if (abs($current) >= 0.5) {
            $e->stripDead = self::deadStrip($cells, $current);

            return;
        }
        $read = array_values(array_filter($cells, fn(?float $v): bool => $v !== null));
        if (count($read) < 3) {
            return;
        }
        rsort($read);
        // The leaker takes what all the others give: largest by far, and opposite in sign to the middle.
        $middle = Robust::median($read);
        $e->stripLeaks =
            $read[0] > 0.02 && $middle <= 0.0 && $read[0] > 2.5 * max(0.01, abs($middle)) && $read[0] > 3 * max(0.005, $read[1]);
    }

    /**
     * Charge needed to fill each group again after some days: leak without the curve, the one way on phosphate.
     *
     * @param  array<int, array{float, float}>  $refills  Ah and days by group
     */
    private function readRefills(array $refills): void
    {
        if ($refills === []) {
            return;
        }
        $rates = [];
        foreach ($refills as $k => [$ah, $days]) {
            if ($days >= 0.5) {
                $rates[$k] = $ah / $days / max(0.1, $this->pack->record->pack->groupCapacityAh() ?? PackSpec::UNKNOWN_AH);
            }
        }
        if ($rates === []) {
            return;
        }
        $typical = count($rates) >= 3 ? Robust::median(array_values($rates)) : min(0.001, min($rates));
        foreach ($rates as $k => $rate) {
            $e = $this->pack->groups[$k - 1];
            $sigma = ProtocolLimits::REFILL_SIGMA_AH / $refills[$k][1] + 0.1 * $rate;
            if ($e->leakPerDay === null || $sigma < $e->leakSigma) {
                $e->leakPerDay = $rate - $typical;
                $e->leakSigma = $sigma;
                $e->leakNoise = ProtocolLimits::REFILL_SIGMA_AH / $refills[$k][1];
                $e->leakDays = $refills[$k][1];
                $e->refillAh = $refills[$k][0];
                $this->pack->leakDays = max($this->pack->leakDays, $e->leakDays);
            }
        }
    }

    /** @param  array<int, float>  $milliohm of the cells of a group by themselves, four-wire or by a step */
    private function readCellResistance(array $milliohm): void
    {
        foreach ($milliohm as $k => $r) {
            $others = array_values(array_diff_key($milliohm, [$k => 1]));
            $healthy = count($others) >= 2 ? Robust::median($others) : $this->pack->record->pack->groupResistanceMohm();
            $this->pack->groups[$k - 1]->cellResistance = $r / max(0.01, $healthy) - 1;
        }
    }

    /** Which group stood at its limit when board or charger stopped a charge or a discharge. */
    private function readStops(): void
    {
        foreach (['charge' => 1, 'discharge' => -1] as $kind => $sign) {
            foreach ($this->pack->record->currentTests($kind) as $t) {
                $volts = [];
                foreach ($t->data->numbers('groups_v') as $i => $v) {
                    if ($v !== null) {
                        $volts[$i + 1] = $v;
                    }
                }
                if (count($volts) < 2) {
                    continue;
                }
                $median = Robust::median(array_values($volts));
                $this->pack->middleAtTopV = $sign > 0 ? max($median, $this->pack->middleAtTopV ?? $median) : $this->pack->middleAtTopV;
                foreach ($volts as $k => $v) {
                    $d = $sign * ($v - $median);
                    // Ahead of the others at the stop: fullest on charge, emptiest on discharge.
                    $key = $sign > 0 ? 'aheadAtTop' : 'aheadAtBottom';
                    $e = $this->pack->groups[$k - 1];
                    $e->{$key} = max($e->{$key} ?? -9.0, $d);
                    $amps = abs($t->data->float('current_a') ?? 0.0);
                    if ($sign < 0 && $amps > 0.1) {
                        $ratio = (1000 * $d) / $amps / max(0.01, $this->pack->record->pack->groupResistanceMohm());
                        $e->bottomAsResistance = min($e->bottomAsResistance ?? INF, $ratio);
                    }
                }
            }
        }
    }
}
