<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Batch;
use App\Models\Customer;
use App\Models\Job;
use App\Models\Pack;
use App\Models\PackModel;
use App\Models\Person;
use Heartwood\Core\Safety\Look;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Support\Facades\DB;

/** Takes a whole lot in: one form, one list, a job for each pack with its own triage. All of it or nothing. */
final class OpenBatch
{
    public function __construct(private readonly OpenJob $jobs) {}

    /**
     * @param  array{name: string, customer: string, contact: string, pack: array<string, mixed>, pack_model_id: int|null,
     *     model_name: string, complaint: string, looked: bool, supplies: int, places: int, hours_a_day: float, paid_cents: int|null,
     *     sells_cents: int|null, rows: list<array{serial: string, volts: float|null, signs: list<string>, note: string}>}  $in  looked:
     *     somebody stood before every pack, and what has no sign showed none
     *
     * @throws Refused a lot of this name is here, or one of its packs is on the bench already
     */
    public function handle(Person $person, array $in): Batch
    {
        return DB::transaction(function () use ($person, $in): Batch {
            if (Batch::query()->where('workshop_id', $person->workshop_id)->where('name', $in['name'])->exists()) {
                throw new Refused('same-name', "There is a lot called {$in['name']} already: give this one another name.", 422, [
                    'name' => 'There is a lot of this name already.',
                ]);
            }
            self::free($person, $in['rows']);
            $model = self::model($person, $in);
            $batch = Batch::query()->create([
                'workshop_id' => $person->workshop_id,
                'name' => $in['name'],
                'customer_id' => Customer::named($person->workshop_id, $in['customer'], $in['contact'])->id,
                'pack_model_id' => $model->id,
                'pack' => $model->spec,
                'opened_by' => $person->id,
                'supplies' => $in['supplies'],
                'places' => $in['places'],
                'hours_a_day' => $in['hours_a_day'],
                'paid_cents' => $in['paid_cents'],
                'sells_cents' => $in['sells_cents'],
            ]);
            foreach ($in['rows'] as $row) {
                $this->jobs->handle($person, [
                    'customer' => $in['customer'],
                    'contact' => $in['contact'],
                    'name' => "{$model->name} {$row['serial']}",
                    'serial' => $row['serial'],
                    'batch' => $batch->name,
                    'complaint' => trim(implode('. ', array_filter([$in['complaint'], $row['note']], fn(string $t): bool => $t !== ''))),
                    'pack' => $model->spec,
                    'pack_model_id' => $model->id,
                    'symptoms' => [],
                    'inspection' => self::inspection($row['signs'], $in['looked']),
                    ...$row['volts'] === null ? [] : ['came_v' => $row['volts']],
                ]);
            }
            EventLog::add($person, null, EventKind::BatchOpened, ['batch' => $batch->id, 'packs' => count($in['rows'])]);

            return $batch;
        });
    }

    /**
     * What somebody saw of one pack: its signs, and "no" to the rest where they stood before it. A sign is never a "no" because of a tick.
     *
     * @param  list<string>  $signs
     * @return array<string, bool>
     */
    private static function inspection(array $signs, bool $looked): array
    {
        $out = [];
        foreach (Look::cases() as $l) {
            if (in_array($l->value, $signs, true)) {
                $out[$l->value] = true;
            } elseif ($looked && $l->fromOutside()) {
                $out[$l->value] = false;
            }
        }

        return $out;
    }

    /**
     * @param  list<array{serial: string, volts: float|null, signs: list<string>, note: string}>  $rows
     *
     * @throws Refused
     */
    private static function free(Person $person, array $rows): void
    {
        $typed = array_column($rows, 'serial');
        // The code of our label, scanned, means the pack that has it.
        $coded = array_filter(array_map(fn(string $s): ?int => Pack::coded($person->workshop_id, $s)?->id, $typed));
        $here = Job::query()
            ->where('workshop_id', $person->workshop_id)
            ->where('status', 'open')
            ->where(fn(Builder $q) => $q->whereIn('serial', $typed)->orWhereIn('pack_id', $coded))
            ->pluck('number', 'serial');
        if ($here->isNotEmpty()) {
            $first = (string) $here->keys()->first();
            throw new Refused('on-the-bench', "$first is on the bench already, as job {$here->first()}: leave it out.", 422, [
                'list' => 'On the bench already: ' . implode(', ', $here->keys()->all()) . '.',
            ]);
        }
    }

    /**
     * The model that its packs share: so that the teardown of the first leads through the others.
     *
     * @param  array{pack: array<string, mixed>, pack_model_id: int|null, model_name: string}  $in
     */
    private static function model(Person $person, array $in): PackModel
    {
        /** @var PackModel $model */
        $model =
            $in['pack_model_id'] === null
                ? PackModel::query()->updateOrCreate(
                    ['workshop_id' => $person->workshop_id, 'name' => $in['model_name']],
                    ['spec' => array_replace($in['pack'], ['name' => $in['model_name']])],
                )
                : PackModel::query()->where('workshop_id', $person->workshop_id)->findOrFail($in['pack_model_id']);

        return $model;
    }
}
