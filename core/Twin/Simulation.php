<?php

declare(strict_types=1);

namespace Heartwood\Core\Twin;

use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\PackSpec;

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
            throw new InvalidRecord([
                [
                    'pointer' => '/job',
                    'message' => 'every group needs a rest voltage, and cells or label a capacity, before the pack can be run',
                ],
            ]);
        }
        $dt = $scenario->float('step_s') ?? 5.0;
        $capacity = $record->pack->groupCapacityAh() ?? PackSpec::UNKNOWN_AH;
        $full = $record->pack->series * $record->pack->workingFullV();
        $clock = 0.0;
        $slow = null;
        $out = ['time_s' => [], 'pack_v' => [], 'current_a' => [], 'groups_v' => array_fill(0, $pack->series(), [])];
        $events = $steps = [];
        $board = new BoardState($pack->board, $scenario->bool('latches') ?? false);
        foreach ($scenario->objects('steps') as $i => $s) {
            $hours = $s->float('hours') ?? 24.0;
            $mode = $s->string('mode') ?? 'rest';
            $event = function (string $kind, string $text, float $at, ?int $group = null) use (&$events, $i): void {
                $events[] = [
                    'at_s' => round($at, 1),
                    'step' => $i,
                    'kind' => $kind,
                    'where' => $group === null ? null : ['group' => $group],
                    'text' => ucfirst($text) . '.',
                ];
            };
            $idle = [
                'mode' => $mode,
                'ah' => 0.0,
                'wh' => 0.0,
                'seconds' => 0.0,
                'bled_ah' => 0.0,
                'leaked_ah' => 0.0,
                'soc' => array_map(fn(float $x): float => round($x, 4), $pack->charge),
            ];
            if ($mode === 'age') {
                $cycles = (int) ($s->float('cycles') ?? 100);
                $pack = $pack->aged(
                    $cycles,
                    $s->float('fade_per_cycle') ?? TwinPack::FADE_PER_CYCLE,
                    $s->float('growth_per_cycle') ?? TwinPack::GROWTH_PER_CYCLE,
                );
                $least = min($pack->capacityAh === [] ? [0.0] : $pack->capacityAh);
                $event(
                    'aged',
                    sprintf('%d cycles on, the smallest group holds %.1f Ah (assumed fade)', $cycles, $least),
                    $clock,
                    (int) array_search($least, $pack->capacityAh, true) + 1,
                );
                $steps[] = $idle;

                continue;
            }
            $volts = $pack->restVolts($slow);
            if ($mode === 'wake') {
                $woke = $board->wake($volts);
                $event(
                    $woke ? 'woken' : 'stays-off',
                    $woke ? 'the output is live' : 'it does not wake: a group is under the low limit',
                    $clock,
                );
                $steps[] = $idle;

                continue;
            }
            if ($mode === 'charge' || $mode === 'discharge') {
                $why = $board->refuses($mode, $volts);
                if ($why !== null) {
                    $event('stays-off', $why, $clock);
                    $steps[] = $idle;

                    continue;
                }
            }
            $step = match ($mode) {
                'charge' => Step::charge(
                    $s->float('current_a') ?? $capacity / 5,
                    $s->float('voltage_v') ?? $full,
                    $s->float('taper_a') ?? $capacity / 20,
                    $hours,
                ),
                'discharge' => $s->float('power_w') !== null
                    ? Step::power((float) $s->float('power_w'), $s->float('voltage_v') ?? 0.0, $hours, $s->float('limit_a') ?? 0.0)
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
            if ($mode === 'rest') {
                foreach ($run->time as $j => $t) {
                    $said = $board->rest(array_column($run->groupsV, $j));
                    if ($said !== null) {
                        $event('released', $said, $clock + $t);
                    }
                }
            }
            $clock += $run->seconds;
            $event($run->endedBy, $run->sentence(), $clock, $run->group);
            $board->after($run);
            $steps[] = [
                'mode' => $run->mode,
                'ah' => round($run->ah, 4),
                'wh' => round($run->wh, 3),
                'seconds' => round($run->seconds, 1),
                'bled_ah' => round($run->bledAh, 4),
                'leaked_ah' => round($run->leakedAh, 4),
                'soc' => array_map(fn(float $x): float => round($x, 4), $run->leftCharge),
            ];
            $pack = $pack->at($run->leftCharge);
            $slow = $run->slowV;
        }

        return ['format' => 'heartwood.simulation', 'version' => 1, 'steps' => $steps, 'events' => $events, 'series' => $out];
    }
}
