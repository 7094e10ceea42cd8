<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Batch;
use App\Models\Customer;
use App\Models\Job;
use App\Models\PackModel;
use App\Models\Person;
use App\Models\Workshop;
use Illuminate\Support\Facades\DB;

/** Takes a pack in: customer, what it is, what is said of it, and the triage that may stop it at the door. */
final class OpenJob
{
    /**
     * @param array{customer: string, contact?: string, name: string, serial?: string, batch?: string, complaint?: string,
     *     came_v?: float, pack: array<string, mixed>, pack_model_id?: int|null, save_model?: bool, symptoms: list<string>,
     *     inspection: array<string, mixed>} $data  came_v: volts at its output as it came
     */
    public function handle(Person $person, array $data): Job
    {
        return DB::transaction(function () use ($person, $data): Job {
            $workshop = Workshop::query()->lockForUpdate()->findOrFail($person->workshop_id);
            $customer = Customer::named($workshop->id, $data['customer'], $data['contact'] ?? '');
            $model = isset($data['pack_model_id'])
                ? PackModel::query()->where('workshop_id', $workshop->id)->findOrFail($data['pack_model_id'])
                : null;
            if ($model === null && ($data['save_model'] ?? false)) {
                $model = PackModel::query()->updateOrCreate(
                    ['workshop_id' => $workshop->id, 'name' => $data['name']],
                    ['spec' => $data['pack']],
                );
            }
            $pack = array_replace($model->spec ?? [], $data['pack'], ['name' => $data['name']]);
            $job = new Job([
                'workshop_id' => $workshop->id,
                'number' => 1 + (int) Job::query()->where('workshop_id', $workshop->id)->max('number'),
                'customer_id' => $customer->id,
                'pack_model_id' => $model?->id,
                'name' => $data['name'],
                'serial' => $data['serial'] ?? '',
                'batch' => $data['batch'] ?? '',
                'batch_id' =>
                    ($data['batch'] ?? '') === ''
                        ? null
                        : Batch::query()->where('workshop_id', $workshop->id)->where('name', $data['batch'])->value('id'),
                'came_v' => $data['came_v'] ?? null,
                'pack' => $pack,
                'chemistry' => $pack['chemistry'],
                'series' => $pack['series'],
                'parallel' => $pack['parallel'] ?? null,
                'symptoms' => [],
                'inspection' => [],
                'safety_reasons' => [],
                'safety_released' => [],
                'complaint' => $data['complaint'] ?? '',
                'opened_by' => $person->id,
                'stage' => 'probe',
                'revision' => 1,
                'safety_state' => 'clear',
                'status' => 'open',
            ]);
            $job->save();
            KeepPack::of($job);
            OpenRevision::write($person, $job, ($pack['build'] ?? null) === 'new' ? 'as it is planned' : 'as it came in');
            EventLog::add($person, $job, EventKind::Opened, ['customer_id' => $customer->id]);

            $job = (new AssessSafety())->handle($person, $job, $data['inspection'], $data['symptoms']);
            if (($pack['build'] ?? null) === 'new') {
                // Nothing came in and nothing is looked for: it begins with the plan.
                (new IssueVerdict())->handle($person, $job);
                $job->update(['stage' => 'plan']);
            }

            return $job;
        });
    }
}
