<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Cell;
use App\Models\CellModel;
use App\Models\Job;
use App\Models\Lot;
use App\Models\Person;
use Heartwood\Core\Cell\CannotMatch;
use Heartwood\Core\Cell\DrawerCell;
use Heartwood\Core\Cell\GradeRules;
use Heartwood\Core\Cell\HardLimits;
use Heartwood\Core\Limits\CellLimits;
use Heartwood\Core\Maths\Robust;
use Illuminate\Support\Collection;
use Illuminate\Support\Facades\DB;

/** The drawer: trays of cells taken in, corrected, graded, and put into groups of a job and out again. */
final class KeepCells
{
    private const FIELDS = ['state', 'reason', 'capacity_ah', 'mohm', 'rest_v', 'leak_percent_month', 'damaged', 'origin'];

    /**
     * All of them or none.
     *
     * @param  list<array{lot: string, model: string, chemistry: string, rated_ah: float, cells: list<array<string, mixed>>}>  $trays
     */
    public function trays(Person $person, array $trays): void
    {
        DB::transaction(function () use ($person, $trays): void {
            foreach ($trays as $t) {
                $this->tray($person, ['name' => $t['lot']], $t['model'], $t['chemistry'], $t['rated_ah'], $t['cells']);
            }
        });
    }

    /**
     * @param  array<string, mixed>  $lot  name, supplier, date_code, price_cents; inspect: a delivery, used once its sample was tested
     * @param  list<array<string, mixed>>  $cells  code (or none: numbered in the lot), and what is known
     * @return list<Cell>
     */
    public function tray(Person $person, array $lot, string $model, string $chemistry, float $ratedAh, array $cells): array
    {
        return DB::transaction(function () use ($person, $lot, $model, $chemistry, $ratedAh, $cells): array {
            $row =
                Lot::query()->where('workshop_id', $person->workshop_id)->where('name', $lot['name'])->lockForUpdate()->first() ??
                Lot::query()->create([
                    'workshop_id' => $person->workshop_id,
                    'name' => $lot['name'],
                    'supplier' => $lot['supplier'] ?? '',
                    'date_code' => $lot['date_code'] ?? '',
                    'price_cents' => $lot['price_cents'] ?? 0,
                    'state' => $lot['inspect'] ?? false ? 'incoming' : 'taken',
                ]);
            $known = CellModel::query()->where('workshop_id', $person->workshop_id)->where('name', $model)->first();
            if ($known !== null && $known->chemistry !== $chemistry) {
                throw new Refused(
                    'other-chemistry',
                    "Cells of $model are {$known->chemistry} by this shop's list, and not $chemistry. Nothing of this tray was taken.",
                    422,
                    ['chemistry' => "The list says {$known->chemistry}: mend it there, or here."],
                );
            }
            if ($known === null) {
                CellModel::query()->create([
                    'workshop_id' => $person->workshop_id,
                    'name' => $model,
                    'chemistry' => $chemistry,
                    'spec' => ['model' => $model, 'capacity_ah' => $ratedAh],
                    'price_cents' => $lot['price_cents'] ?? 0,
                ]);
            }
            $number = Cell::query()->where('lot_id', $row->id)->count();
            $out = [];
            foreach ($cells as $i => $c) {
                $code = trim((string) ($c['code'] ?? ''));
                if ($code === '') {
                    $code = sprintf('%s-%03d', $row->name, ++$number);
                }
                if (Cell::query()->where('workshop_id', $person->workshop_id)->where('code', $code)->exists()) {
                    throw new Refused(
                        'code-taken',
                        "A cell with the code $code is in the drawer already. Nothing of this tray was taken.",
                        422,
                        ["cells.$i.code" => 'Taken: choose another code.'],
                    );
                }
                $cell = Cell::query()->create(
                    [
                        'workshop_id' => $person->workshop_id,
                        'code' => $code,
                        'lot_id' => $row->id,
                        'model' => $model,
                        'chemistry' => $chemistry,
                        'rated_ah' => $ratedAh,
                    ] +
                        array_intersect_key($c, array_flip(self::FIELDS)) +
                        (isset($c['capacity_ah']) ? ['state' => 'testing'] : []),
                );
                EventLog::ofCell($cell, $person, 'taken-in', array_filter($c, fn(mixed $v): bool => $v !== null));
                $out[] = $cell;
            }

            return $out;
        });
    }

    /** @param  array<string, mixed>  $changes */
    public function change(Person $person, Cell $cell, array $changes, ?string $version): Cell
    {
        $changes = array_intersect_key($changes, array_flip(self::FIELDS));
        if (array_key_exists('reason', $changes)) {
            $changes['reason'] = (string) $changes['reason'];
        }
        if (($changes['state'] ?? '') === 'rejected' && trim((string) ($changes['reason'] ?? $cell->reason)) === '') {
            throw new Refused('no-reason', 'A rejected cell needs its reason.', 422, ['reason' => 'Say why it is out.']);
        }

        $ah = $changes['capacity_ah'] ?? null;
        if ($ah !== null && (float) $ah !== (float) $cell->capacity_ah && trim((string) ($changes['reason'] ?? '')) === '') {
            throw new Refused('no-reason', 'A capacity that no log gave needs its reason.', 422, [
                'reason' => 'Say where the capacity comes from, such as the tester and its rate.',
            ]);
        }

        return DB::transaction(function () use ($person, $cell, $changes, $version): Cell {
            $cell = Version::lock($cell, $version, array_keys($changes));
            if (isset($changes['capacity_ah']) && ($changes['state'] ?? $cell->state) === 'untested') {
                // What was measured is in the sample of its lot, and is to be graded.
                $changes['state'] = 'testing';
            }
            $cell->update($changes);
            EventLog::ofCell($cell, $person, 'changed', $changes);

            return $cell;
        });
    }

    /**
     * Grades what is tested by the shop's rules; used cells are left alone.
     *
     * @param  list<int>  $ids
     * @return array{accepted: int, rejected: int, untested: int, no_resistance: int} of the untested, what has
     *   its capacity and no resistance
     */
    public function grade(Person $person, array $ids, GradeRules $rules): array
    {
        return DB::transaction(function () use ($person, $ids, $rules): array {
            $cells = Cell::query()
                ->where('workshop_id', $person->workshop_id)
                ->whereIn('id', $ids)
                ->where('state', '!=', 'used')
                ->with('lot')
                ->lockForUpdate()
                ->get();
            $tested = [];
            foreach ($cells as $c) {
                $known = $c->forRules($c->lot->name);
                if ($known !== null) {
                    $tested[] = $known;
                }
            }
            $graded = $rules->grade($tested);
            $accepted = array_flip(array_map(fn(DrawerCell $c): string => $c->id, $graded['accepted']));
            $count = ['accepted' => 0, 'rejected' => 0, 'untested' => count($cells) - count($tested)];
            $count['no_resistance'] = $cells->filter(fn(Cell $c): bool => $c->capacity_ah !== null && $c->mohm === null)->count();
            foreach ($cells as $c) {
                $state = isset($accepted[$c->code]) ? 'accepted' : (isset($graded['rejected'][$c->code]) ? 'rejected' : null);
                if ($state !== null) {
                    $count[$state]++;
                    $why = $graded['rejected'][$c->code] ?? '';
                    if ($c->state !== $state || $c->reason !== $why) {
                        $c->update(['state' => $state, 'reason' => $why]);
                        EventLog::ofCell($c, $person, 'graded', ['state' => $state, 'reason' => $why]);
                    }
                }
            }

            return $count;
        });
    }

    /**
     * Puts a deal into a job: every cell to its group, used; what was in the job before comes back as spare.
     *
     * @param  list<list<string>>  $groups  codes by group
     * @param  float  $ratio  of resistances inside a group, at the most; one over the rule stands in the event
     */
    public function build(Person $person, Job $job, array $groups, float $ratio): void
    {
        DB::transaction(function () use ($person, $job, $groups, $ratio): void {
            Gatekeeper::open(LockJob::now($job));
            $stay = array_flip(array_merge(...$groups));
            /** @var Cell $c */
            foreach (Cell::query()->where('job_id', $job->id)->lockForUpdate()->get() as $c) {
                if (isset($stay[$c->code])) {
                    continue;
                }
                $c->update(['job_id' => null, 'group_no' => null, 'state' => 'spare', 'origin' => 'salvaged']);
                EventLog::ofCell($c, $person, 'out-of-job', ['job' => $job->number]);
            }
            $built = [];
            $specs = CellModel::specs($job->workshop_id);
            /** @var Collection<string, Cell> $asked */
            $asked = Cell::query()
                ->where('workshop_id', $job->workshop_id)
                ->whereIn('code', array_keys($stay))
                ->with('lot')
                ->lockForUpdate()
                ->get()
                ->keyBy('code');
            foreach ($groups as $k => $codes) {
                $built[$k] = [];
                foreach ($codes as $code) {
                    $c = $asked[$code] ?? null;
                    if (
                        $c === null ||
                        !(in_array($c->state, ['accepted', 'spare'], true) || ($c->job_id === $job->id && $c->state === 'used'))
                    ) {
                        throw new Refused(
                            'not-accepted',
                            "Cell $code is " . ($c === null ? 'not in the drawer' : $c->state) . ': only accepted cells go into a build.',
                            422,
                            ["groups.$k" => 'Take another cell.'],
                        );
                    }
                    if ($c->job_id !== $job->id && $c->lot->state !== 'taken') {
                        throw new Refused(
                            'lot-not-taken',
                            "Cell $code is of lot {$c->lot->name}, which " .
                                ($c->lot->state === 'refused' ? 'was refused.' : 'is a delivery that nobody has taken yet.'),
                            422,
                            ["groups.$k" => 'Test its sample and take the lot, or take another cell.'],
                        );
                    }
                    $built[$k][] =
                        $c->forRules($c->lot->name, $specs[$c->model] ?? []) ??
                        new DrawerCell($code, 0.0, (float) $c->mohm, chemistry: $c->chemistry);
                    if ($c->job_id === $job->id && $c->group_no === $k + 1) {
                        continue;
                    }
                    $c->update(['job_id' => $job->id, 'group_no' => $k + 1, 'state' => 'used']);
                    EventLog::ofCell($c, $person, 'into-job', ['job' => $job->number, 'group' => $k + 1]);
                }
            }
            try {
                HardLimits::check(array_values($built), $job->series, (int) ($job->parallel ?? 1), $ratio);
            } catch (CannotMatch $e) {
                throw new Refused('cannot-match', $e->getMessage(), 422, ['groups' => ucfirst((string) $e->relaxation) . '.']);
            }
            self::named($job, array_values($asked->all()));
            EventLog::add(
                $person,
                $job,
                EventKind::CellsDealt,
                ['groups' => count($groups), 'cells' => array_sum(array_map(count(...), $groups))] +
                    ($ratio > CellLimits::RATIO_IN_GROUP ? ['ratio_allowed' => $ratio] : []),
            );
        });
    }

    /**
     * A pack of which nobody said what cells it has, has those that were dealt into it: what follows counts on them.
     *
     * @param  list<Cell>  $cells
     */
    private static function named(Job $job, array $cells): void
    {
        $names = array_values(array_unique(array_map(fn(Cell $c): string => $c->model, $cells)));
        $said = $job->pack['cell'] ?? [];
        // What a new pack is built of is what was dealt, whatever the plan said; a repaired one keeps cells of its own.
        $other = ($job->pack['build'] ?? null) === 'new' && isset($said['model']) && $names !== [$said['model']];
        // Of some groups alone it says nothing: the others keep what they came with.
        if (count($cells) < $job->series * (int) ($job->parallel ?? 1)) {
            return;
        }
        $cell = isset($said['capacity_ah']) && !$other ? $said : self::weakest($job, $names);
        $mohm = array_values(array_filter(array_map(fn(Cell $c): ?float => $c->mohm, $cells), fn(?float $r): bool => $r !== null));
        if ($cell !== null && $mohm !== [] && !isset($cell['resistance_mohm'])) {
            // Nobody wrote down what the maker says: what these cells measured is nearer than a figure of their kind.
            $cell['resistance_mohm'] = round(Robust::median($mohm), 1);
        }
        if ($cell !== null && $cell !== $said) {
            $job->update(['pack' => ['cell' => $cell] + $job->pack, 'version' => $job->version + 1]);
        }
    }

    /**
     * Of several models the weakest counts, figure by figure, and only what all of them say.
     *
     * @param  list<string>  $names  of models
     * @return array<string, mixed>|null as `pack.cell` of the record; null when one of them is not known
     */
    private static function weakest(Job $job, array $names): ?array
    {
        $said = [];
        foreach (CellModel::query()->where('workshop_id', $job->workshop_id)->whereIn('name', $names)->orderBy('name')->get() as $m) {
            /** @var CellModel $m */
            $said[] = $m->forRecord();
        }
        if (count($said) !== count($names)) {
            return null;
        }
        $cell = array_shift($said);
        foreach ($said as $other) {
            $cell = array_intersect_key($cell, $other);
            foreach ($cell as $key => $value) {
                $cell[$key] = match (true) {
                    $key === 'model' => "$value, {$other['model']}",
                    $key === 'resistance_mohm' => max($value, $other[$key]),
                    is_numeric($value) => min($value, $other[$key]),
                    default => $value,
                };
            }
        }

        return $cell;
    }
}
