<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol;

use Heartwood\Core\Record\Measurement;
use Heartwood\Core\Work\Facts;

/** What stands on record already and answers a step: nobody types it again. */
final class Found
{
    /** A whole set of the step's condition, taken since and by no step of this run. */
    public static function set(Course $c, Step $step, float $since): ?Entry
    {
        $own = array_map(fn(Entry $e): string => $e->id, $c->entries);
        foreach ($c->record->current() as $m) {
            $at = self::at($m);
            if ($m->condition !== $step->condition || $at === null || $at < $since || in_array($m->id, $own, true)) {
                continue;
            }
            $volts = array_map(fn(int $k): ?float => $c->evidence->solved($m)->group($k)->volts, range(1, $c->pack->series));
            if (!in_array(null, $volts, true)) {
                return new Entry(
                    $step->code,
                    $at,
                    ['volts' => $volts, 'current_a' => $m->currentA],
                    false,
                    'a set of the readings',
                    $m->id,
                );
            }
        }

        return null;
    }

    /** The last run at the supply of a kind that came to its own end since; where it is about a group, of that group. */
    public static function run(Course $c, string $step, string $kind, float $since): ?Entry
    {
        foreach (array_reverse($c->facts->runs) as $r) {
            $mine = $c->scope->kind !== 'group' || $r['group'] === null || $r['group'] === $c->scope->number;
            if ($r['kind'] === $kind && $mine && $r['good'] && $r['ended'] !== null && $r['started'] >= $since) {
                return new Entry($step, $r['ended'], ['by_taper' => true], false, 'a run at the supply: ' . $r['text']);
            }
        }

        return null;
    }

    /**
     * The last test of a kind on record since, of the same place.
     *
     * @param  array<string, mixed>  $more  that the record does not say
     */
    public static function test(Course $c, string $step, string $kind, float $since, array $more = []): ?Entry
    {
        $found = null;
        foreach ($c->record->currentTests($kind) as $t) {
            $at = Facts::time($t->data);
            if ($at >= $since && $t->place->key() === $c->scope->key()) {
                $values = $more;
                foreach (['measured_ah', 'rate_a', 'cutoff_v', 'ambient_c'] as $f) {
                    if ($t->data->float($f) !== null) {
                        $values[$f] = $t->data->float($f);
                    }
                }
                $found = new Entry($step, $at, $values, false, 'a test on record');
            }
        }

        return $found;
    }

    private static function at(Measurement $m): ?float
    {
        return $m->at === null ? null : (float) $m->at->getTimestamp();
    }
}
