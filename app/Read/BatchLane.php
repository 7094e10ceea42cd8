<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\EventKind;
use App\Models\Batch;
use App\Models\Job;
use App\Models\Pack;
use App\Models\Run;
use App\Models\Workshop;
use Carbon\CarbonImmutable;
use Heartwood\Core\Batch\Donor;
use Heartwood\Core\Batch\LotFacts;
use Heartwood\Core\Batch\LotYield;
use Heartwood\Core\Batch\Odd;
use Heartwood\Core\Batch\OddOnes;
use Heartwood\Core\Batch\Today;
use Heartwood\Core\Batch\Wants;
use Heartwood\Core\Diagnosis\Verdict;
use Heartwood\Core\Money\Prices;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Safety\SafetyState;
use Illuminate\Support\Facades\DB;

/**
 * A lot as its lane shows it: where each pack stands and what it waits for, what is begun today, what is odd, what has come of it and what
 * the next one is worth. Out of what is kept beside its jobs, by as many questions however many there are. Computed only.
 */
final class BatchLane
{
    /** Packs of a page. */
    public const PAGE = 40;

    private const HOUR_S = 3600;

    /** @return array<string, mixed> */
    public static function of(Batch $batch, ?string $lane = null, int $from = 0, string $find = ''): array
    {
        $workshop = Workshop::query()->whereKey($batch->workshop_id)->firstOrFail();
        [$rows, $fixed] = self::known($batch, $workshop);
        $find = mb_strtolower(trim($find));
        $shown =
            $lane === null && $find === ''
                ? $rows
                : array_values(
                    array_filter(
                        $rows,
                        fn(array $r): bool => ($lane === null || $r['lane'] === $lane) &&
                            ($find === '' || str_contains(mb_strtolower("{$r['serial']} {$r['number']}"), $find)),
                    ),
                );

        return [
            'batch' => self::said($batch) + ['customer' => $batch->customer->name],
            'packs' => count($rows),
            'rows' => array_slice($shown, $from, self::PAGE),
            'matching' => count($shown),
            'page' => self::PAGE,
        ] + $fixed;
    }

    /**
     * What was worked out of it is kept as long as nothing of it has changed: neither a job, a run, a wait that is over, the batch, the
     * shop's settings, the rules, nor the minutes that are left of the day.
     *
     * @return array{list<array<string, mixed>>, array<string, mixed>} rows of all packs; all that is no row
     */
    private static function known(Batch $batch, Workshop $workshop): array
    {
        [$hours, $day] = self::hours($batch, $workshop);
        $jobs = DB::table('jobs')
            ->where('batch_id', $batch->id)
            ->selectRaw('count(*) as n, max(updated_at) as at, coalesce(sum(waits_until > ?), 0) as waiting', [
                now()->format('Y-m-d H:i:s.u'),
            ])
            ->first();
        $runs = Run::query()
            ->whereIn('job_id', DB::table('jobs')->where('batch_id', $batch->id)->select('id'))
            ->whereNull('ended_at')
            ->orderBy('job_id')
            ->pluck('job_id')
            ->all();
        $of = md5((string) json_encode([$jobs, $runs, $batch->version, $workshop->settings, Verdict::RULES, round($hours, 2), $day]));
        $kept = DB::table('batch_lanes')
            ->where('batch_id', $batch->id)
            ->first(['of', 'lane']);
        if ($kept !== null && $kept->of === $of) {
            /** @var array{list<array<string, mixed>>, array<string, mixed>} $known */
            $known = json_decode($kept->lane, true);
            $known[1]['lanes'] = (object) $known[1]['lanes'];

            return $known;
        }
        $known = self::workedOut($batch, $workshop, array_flip($runs), $hours, $day);
        DB::table('batch_lanes')->updateOrInsert(['batch_id' => $batch->id], ['of' => $of, 'lane' => json_encode($known)]);

        return $known;
    }

    /**
     * @param  array<int, int>  $runs  by job that is on a supply
     * @return array{list<array<string, mixed>>, array<string, mixed>}
     */
    private static function workedOut(Batch $batch, Workshop $workshop, array $runs, float $hours, string $day): array
    {
        $rows = self::rows($batch);
        $now = now()->format('Y-m-d H:i:s.u');
        $spec = $batch->packSpec();
        $wants = $facts = $kept = [];
        foreach ($rows as $r) {
            $k = $kept[$r->id] = $r->lot_facts === null ? [] : (array) json_decode($r->lot_facts, true);
            $came = $r->came_v === null ? null : (float) $r->came_v;
            $facts[$r->id] = LotFacts::from($k, $came);
            $wants[$r->id] = Wants::of(
                $spec,
                $r->status,
                $r->stage,
                SafetyState::from($r->safety_state),
                $r->waits_until !== null && $r->waits_until > $now ? $r->waits_for : null,
                isset($runs[$r->id]),
                $came,
                $k['decided'] ?? null,
            );
        }
        $odd = OddOnes::of($facts);
        $lanes = array_count_values(array_map(fn(Wants $w): string => $w->lane, $wants));
        $today = Today::of(
            $wants,
            array_keys($odd),
            $batch->supplies - ($lanes['supply'] ?? 0),
            $batch->places - ($lanes['shelf'] ?? 0),
            $hours,
        );

        return [
            array_values(array_map(fn(object $r): array => self::row($r, $wants[$r->id], $odd[$r->id] ?? [], $kept[$r->id]), $rows)),
            [
                'lanes' => (object) $lanes,
                'energy_wh' => self::energy($spec, $facts, $wants),
                'shelf' => array_map(
                    fn(object $r): array => [
                        'id' => $r->id,
                        'serial' => $r->serial,
                        'until' => self::time($r->waits_until),
                        'for' => $r->waits_for,
                    ],
                    self::shelf($rows, $wants),
                ),
                'odd' => array_map(
                    fn(int $id): array => [
                        'id' => $id,
                        'serial' => $rows[$id]->serial,
                        'why' => array_map(fn(Odd $o): string => $o->text(), $odd[$id]),
                    ],
                    // One that has left is marked in its row, and nobody has to look at it again.
                    array_values(array_filter(array_keys($odd), fn(int $id): bool => $wants[$id]->lane !== 'done')),
                ),
                'today' => self::today($today, $day, $hours, $rows, $wants, $kept),
                'donors' => self::donors($rows, $kept, $spec),
                ...self::worth($batch, $workshop, $rows, $kept),
            ],
        ];
    }

    /**
     * @param  array<int, LotFacts>  $facts
     * @param  array<int, Wants>  $wants
     * @return int|null watt-hours in all that are open, as far as they were read; null where nothing tells
     */
    private static function energy(PackSpec $spec, array $facts, array $wants): ?int
    {
        $stored = [];
        foreach ($facts as $id => $f) {
            if ($wants[$id]->lane !== 'done') {
                $stored[] = $f->wattHours($spec);
            }
        }
        $known = array_filter($stored, fn(?float $wh): bool => $wh !== null);

        return $known === [] ? null : (int) round(array_sum($known));
    }

    /**
     * @param  array<int, \stdClass>  $rows
     * @param  array<int, Wants>  $wants
     * @param  array<int, array<string, mixed>>  $kept
     * @return array<string, mixed>
     */
    private static function today(Today $today, string $day, float $hours, array $rows, array $wants, array $kept): array
    {
        return [
            'day' => $day,
            'hours' => round($hours, 2),
            'hands_min' => $today->handsMin,
            'places_left' => $today->placesLeft,
            'begun' => array_map(
                fn(array $b): array => ['id' => $b['pack'], 'text' => $wants[$b['pack']]->text] +
                    array_diff_key($b, ['pack' => 1]) + [
                        'serial' => $rows[$b['pack']]->serial,
                        'door' => self::door($rows[$b['pack']], $wants[$b['pack']]),
                    ],
                array_slice($today->begun, 0, self::PAGE),
            ),
            'left' => array_map(
                fn(int $id): array => ['id' => $id, 'serial' => $rows[$id]->serial, 'why' => $today->left[$id]],
                array_slice(array_keys($today->left), 0, self::PAGE),
            ),
            'left_count' => count($today->left),
        ];
    }

    /** @return array<string, mixed> what somebody may edit of it */
    public static function said(Batch $batch): array
    {
        return [
            'id' => $batch->id,
            'name' => $batch->name,
            'customer_id' => $batch->customer_id,
            'supplies' => $batch->supplies,
            'places' => $batch->places,
            'hours_a_day' => $batch->hours_a_day,
            'paid_cents' => $batch->paid_cents,
            'sells_cents' => $batch->sells_cents,
            'margin_percent' => $batch->margin_percent,
            'version' => $batch->version,
            'opened_at' => $batch->created_at->toIso8601ZuluString(),
        ];
    }

    /** @return list<array{code: string, name: string, serial: string, number: int}> for its labels */
    public static function labels(Batch $batch): array
    {
        $jobs = Job::query()->where('batch_id', $batch->id)->orderBy('number')->with('itsPack')->get();

        return array_values(
            $jobs
                ->map(
                    fn(Job $j): array => [
                        'code' => $j->itsPack instanceof Pack ? Passport::code($j->itsPack->code) : '',
                        'name' => $j->name,
                        'serial' => (string) $j->serial,
                        'number' => $j->number,
                    ],
                )
                ->all(),
        );
    }

    /** @return array<int, \stdClass> by job */
    private static function rows(Batch $batch): array
    {
        return DB::table('jobs')
            ->where('batch_id', $batch->id)
            ->orderBy('number')
            // One without a serial is called by its name.
            ->get([
                DB::raw("if(serial = '', name, serial) as serial"),
                'id',
                'number',
                'stage',
                'status',
                'safety_state',
                'waits_until',
                'waits_for',
                'came_v',
                'lot_facts',
                'parallel',
            ])
            ->keyBy('id')
            ->all();
    }

    /**
     * @param  list<Odd>  $odd
     * @param  array<string, mixed>  $kept
     * @return array<string, mixed>
     */
    private static function row(\stdClass $r, Wants $w, array $odd, array $kept): array
    {
        return [
            'id' => $r->id,
            'number' => $r->number,
            'serial' => $r->serial,
            'lane' => $w->lane,
            'text' => $w->text,
            'came_v' => $r->came_v === null ? null : (float) $r->came_v,
            'until' => $w->lane === 'shelf' ? self::time($r->waits_until) : null,
            'first' => (string) ($kept['first'] ?? ''),
            'odd' => $odd === [] ? null : $odd[0]->text(),
            'door' => self::door($r, $w),
        ];
    }

    private static function door(\stdClass $r, Wants $w): string
    {
        $room = $w->lane === 'work' && $w->hours > 0.0 ? 'supply' : $r->stage;

        return "/jobs/$r->id/$room";
    }

    private static function time(?string $at): ?string
    {
        return $at === null ? null : CarbonImmutable::parse($at)->toIso8601ZuluString();
    }

    /**
     * @param  array<int, \stdClass>  $rows
     * @param  array<int, Wants>  $wants
     * @return list<\stdClass> those on the shelf, the next first
     */
    private static function shelf(array $rows, array $wants): array
    {
        $out = array_values(array_filter($rows, fn(object $r): bool => $wants[$r->id]->lane === 'shelf'));
        usort($out, fn(object $a, object $b): int => [$a->waits_until, $a->number] <=> [$b->waits_until, $b->number]);

        return $out;
    }

    /** @return array{float, string} hours of hands that are left, and whether of today or of the next day */
    private static function hours(Batch $batch, Workshop $workshop): array
    {
        $said = $workshop->said();
        $closes = $said->text('closes_at');
        if ($closes === '') {
            return [$batch->hours_a_day, 'today'];
        }
        $now = CarbonImmutable::now($said->text('timezone'));
        $left = ($now->setTimeFromTimeString($closes)->getTimestamp() - $now->getTimestamp()) / self::HOUR_S;

        return $left > 0 ? [min($batch->hours_a_day, $left), 'today'] : [$batch->hours_a_day, 'the next day'];
    }

    /**
     * @param  array<int, \stdClass>  $rows
     * @param  array<int, array<string, mixed>>  $kept
     * @return list<array<string, mixed>>
     */
    private static function donors(array $rows, array $kept, PackSpec $spec): array
    {
        $out = [];
        foreach ($rows as $r) {
            if (($kept[$r->id]['decided']['action'] ?? null) !== 'donor') {
                continue;
            }
            $donor = Donor::of($spec, $kept[$r->id]['groups_v'] ?? [], $kept[$r->id]['states'] ?? []);
            $out[] = [
                'id' => $r->id,
                'serial' => $r->serial,
                'groups' => $donor->groups,
                'cells' => $donor->cells,
                'text' => $donor->text(),
            ];
        }

        return $out;
    }

    /**
     * @param  array<int, \stdClass>  $rows
     * @param  array<int, array<string, mixed>>  $kept
     * @return array<string, mixed>
     */
    private static function worth(Batch $batch, Workshop $workshop, array $rows, array $kept): array
    {
        $status = array_count_values(array_column($rows, 'status'));
        $yield = new LotYield($status['returned'] ?? 0, $status['scrapped'] ?? 0, $status['open'] ?? 0);
        $prices = Prices::of($workshop->said());
        $done = array_filter($rows, fn(object $r): bool => $r->status !== 'open');
        $timed = DB::table('events')
            ->whereIn('job_id', array_column($done, 'id'))
            ->where('kind', EventKind::WorkTimed->value)
            ->groupBy('job_id')
            ->selectRaw("job_id, sum(json_value(data, '$.minutes')) as minutes")
            ->pluck('minutes', 'job_id');
        $minutes = $cents = [];
        foreach ($done as $r) {
            $decided = $kept[$r->id]['decided'] ?? null;
            $minutes[$r->id] = (float) ($timed[$r->id] ?? ($decided['minutes'] ?? 0));
            $cents[$r->id] = ($minutes[$r->id] * $prices->rateCents) / 60 + ($decided['parts_cents'] ?? 0);
        }
        $n = count($done);
        $cost = $n === 0 ? null : array_sum($cents) / $n;
        $margin = ($batch->margin_percent ?? (float) $workshop->said()->float('lot_margin_percent')) / 100;
        $sells = $batch->sells_cents;

        return [
            'yield' => $yield->toArray(),
            'cost' => [
                'minutes' => $n === 0 ? null : round(array_sum($minutes) / $n, 1),
                'cents' => $cost === null ? null : (int) round($cost),
                'timed' => count($timed),
                'of' => $n,
                'currency' => $prices->currency,
            ],
            'margin_percent' => round(100 * $margin, 2),
            'ceiling' => $sells === null || $cost === null ? null : $yield->ceiling($sells, $margin, $cost),
            'rest' => $sells === null || $cost === null ? null : $yield->rest($sells, $cost),
        ];
    }
}
