<?php

declare(strict_types=1);

namespace App\Contract;

use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Run\RunPlan;
use Heartwood\Core\Run\Said;
use Heartwood\Core\Run\Sample;

/** JSON text of a run to be replayed: its plan, what was seen and what was said, checked with pointers. */
final class WatchReader
{
    /** So many samples are checked by the schema; the rest, which look the same, by hand. */
    private const BY_SCHEMA = 20;

    /**
     * @return array{RunPlan, list<Sample>, list<Said>}
     *
     * @throws InvalidRecord
     */
    public static function read(string $json): array
    {
        try {
            $data = json_decode($json, false, 64, JSON_THROW_ON_ERROR);
        } catch (\JsonException $e) {
            throw new InvalidRecord([['pointer' => '', 'message' => 'this is not JSON: ' . $e->getMessage()]]);
        }
        $array = json_decode($json, true, 64);
        $all = is_array($array) && is_array($array['samples'] ?? null) ? array_values($array['samples']) : [];
        if ($data instanceof \stdClass && is_array($data->samples ?? null)) {
            $data->samples = array_slice($data->samples, 0, self::BY_SCHEMA);
        }
        $problems = SchemaCheck::problems($data, 'watch.schema.json');
        if ($problems !== []) {
            throw new InvalidRecord($problems);
        }
        $in = new Fields($array);
        $pack = PackSpec::from($in->object('pack'));
        if ($in->int('group') !== null && $in->int('group') > $pack->series) {
            throw new InvalidRecord([
                ['pointer' => '/group', 'message' => "the pack has {$pack->series} groups: give one of 1 to {$pack->series}"],
            ]);
        }
        if (in_array($in->string('kind'), ['recovery', 'balance'], true) && $in->int('group') === null) {
            throw new InvalidRecord([['pointer' => '/group', 'message' => 'this kind of run sits on one group: say which']]);
        }

        return [self::plan($in, $pack, $all), self::samples($all, $pack->series), self::events($in)];
    }

    /** @param  list<mixed>  $samples */
    private static function plan(Fields $in, PackSpec $pack, array $samples): RunPlan
    {
        $o = $in->object('override');
        // A run by hand has no set-points to read back, and says so by leaving them out.
        $byHand =
            $samples !== [] &&
            array_filter(
                $samples,
                fn(mixed $s): bool => is_array($s) && (array_key_exists('set_v', $s) || array_key_exists('set_a', $s)),
            ) === [];
        $a = [
            'kind' => $in->string('kind'),
            'pack' => (array) $in->raw('pack'),
            'group' => $in->int('group'),
            'plan_v' => $in->float('plan_v'),
            'plan_sigma_v' => $in->float('plan_sigma_v') ?? 0.0,
            'ambient_c' => $in->float('ambient_c') ?? 20.0,
            'target_v' => $in->float('target_v'),
            'plan_a' => $in->float('plan_a'),
            'limit_a' => $in->float('limit_a'),
            'limit_v' => $in->float('limit_v'),
            'below_floor_allowed' => RunPlan::overrideCounts(
                $in->float('below_floor_days'),
                $o->string('role'),
                $o->string('reason') ?? '',
            ),
            'closes_at_s' => $in->float('closes_at_s'),
            'confirm_every_min' => $in->float('confirm_every_min'),
            'resolution_v' => $in->float('resolution_v') ?? 0.001,
            'resolution_a' => $in->float('resolution_a') ?? 0.01,
            'by_hand' => $byHand,
        ];

        return RunPlan::fromArray($a);
    }

    /**
     * @param  list<mixed>  $rows
     * @return list<Sample>
     */
    private static function samples(array $rows, int $series): array
    {
        $out = [];
        $before = -INF;
        foreach ($rows as $i => $row) {
            $at = is_array($row) ? $row['at_s'] ?? null : null;
            if (!is_array($row) || !is_numeric($at) || is_string($at)) {
                throw new InvalidRecord([['pointer' => "/samples/$i/at_s", 'message' => 'a sample needs its time, in seconds']]);
            }
            if ($at < $before) {
                throw new InvalidRecord([['pointer' => "/samples/$i/at_s", 'message' => 'samples stand in the order of their times']]);
            }
            $before = $at;
            foreach ($row as $key => $value) {
                if ($key !== 'groups_v' && $value !== null && !is_int($value) && !is_float($value)) {
                    throw new InvalidRecord([['pointer' => "/samples/$i/$key", 'message' => 'a number, or null where it was not read']]);
                }
            }
            $f = new Fields($row);
            $groups = is_array($row['groups_v'] ?? null) ? $f->numbers('groups_v') : null;
            if ($groups !== null && count($groups) !== $series) {
                throw new InvalidRecord([
                    ['pointer' => "/samples/$i/groups_v", 'message' => "one value a group, $series of them, null where unread"],
                ]);
            }
            $out[] = Sample::of(
                (float) $at,
                $f->float('v'),
                $f->float('a'),
                $f->float('c'),
                $f->float('set_v'),
                $f->float('set_a'),
                $groups,
                $f->float('supply_v'),
                $f->float('ambient_c'),
            );
        }

        return $out;
    }

    /** @return list<Said> */
    private static function events(Fields $in): array
    {
        $out = [];
        foreach ($in->objects('events') as $i => $e) {
            if ($e->string('do') === 'plan' && $e->float('v') === null) {
                throw new InvalidRecord([['pointer' => "/events/$i/v", 'message' => 'a fresh reading needs its volts']]);
            }
            $out[] = Said::of((float) $e->float('at_s'), (string) $e->string('do'), $e->float('v'), $e->string('why') ?? '');
        }
        usort($out, fn(Said $a, Said $b): int => $a->t <=> $b->t);

        return $out;
    }
}
