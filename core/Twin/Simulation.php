<?php

declare(strict_types=1);

namespace Heartwood\Core\Twin;

use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Record\JobRecord;

/** A scenario run on the job's own estimate: the document heartwood.simulation, version 1. */
final class Simulation
{
    /**
     * @param  Fields  $scenario  `steps` (mode, current_a or power_w, voltage_v, taper_a, hours) and optional `step_s`
     * @return array<string, mixed>
     *
     * @throws InvalidRecord the record does not tell enough to run a pack
     */
    public static function of(JobRecord $record, Fields $scenario): array
    {
        $pack = TwinPack::estimate($record->pack, new PackEvidence($record));
        if ($pack === null) {
            throw new InvalidRecord([['pointer' => '/job', 'message' => 'every group needs a rest voltage, and cells or label a capacity, before the pack can be run']]);
        }
        $dt = $scenario->float('step_s') ?? 5.0;
        $capacity = $record->pack->groupCapacityAh() ?? 5.0;
        $full = $record->pack->series * $record->pack->workingFullV();
        $clock = 0.0;
        $slow = null;
        $out = ['time_s' => [], 'pack_v' => [], 'current_a' => [], 'groups_v' => array_fill(0, $pack->series(), [])];
        $events = $steps = [];
        foreach ($scenario->objects('steps') as $i => $s) {
            $hours = $s->float('hours') ?? 24.0;
            $step = match ($s->string('mode')) {
                'charge' => Step::charge($s->float('current_a') ?? $capacity / 5, $s->float('voltage_v') ?? $full, $s->float('taper_a') ?? $capacity / 20, $hours),
                'discharge' => $s->float('power_w') !== null
                    ? Step::power((float) $s->float('power_w'), $s->float('voltage_v') ?? 0.0, $hours)
                    : Step::discharge(abs($s->float('current_a') ?? $capacity / 5), $s->float('voltage_v') ?? 0.0, $hours),
                default => Step::rest($hours),
            };
            $run = Twin::run($pack, $step, $dt, $slow);
            foreach ($run->time as $j => $t) {
                $out['time_s'][] = round($clock + $t, 1);
                $out['pack_v'][] = round($run->packV[$j], 4);
                $out['current_a'][] = round($run->amps[$j], 4);
                foreach ($run->groupsV as $k => $series) {
                    $out['groups_v'][$k][] = round($series[$j], 4);
                }
            }
            $clock += $run->seconds;
            $events[] = ['at_s' => round($clock, 1), 'step' => $i, 'kind' => $run->endedBy, 'where' => $run->group === null ? null : ['group' => $run->group], 'text' => ucfirst($run->sentence()).'.'];
            $steps[] = [
                'mode' => $run->mode, 'ah' => round($run->ah, 4), 'wh' => round($run->wh, 3), 'seconds' => round($run->seconds, 1),
                'bled_ah' => round($run->bledAh, 4), 'leaked_ah' => round($run->leakedAh, 4), 'soc' => array_map(fn (float $x): float => round($x, 4), $run->leftCharge),
            ];
            $pack = $pack->at($run->leftCharge);
            $slow = $run->slowV;
        }

        return ['format' => 'heartwood.simulation', 'version' => 1, 'steps' => $steps, 'events' => $events, 'series' => $out];
    }
}
