<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\PartModel;
use App\Models\Person;
use Illuminate\Support\Facades\DB;

/** A device, a board or a charger is described once, and better when somebody knows better; packs keep what was said of theirs. */
final class KeepPartModel
{
    /** @param  array<string, mixed>  $spec  as the record has that part */
    public function handle(Person $person, string $kind, string $name, array $spec): PartModel
    {
        return DB::transaction(function () use ($person, $kind, $name, $spec): PartModel {
            $at = ['workshop_id' => $person->workshop_id, 'kind' => $kind, 'name' => $name];
            $before = PartModel::query()->where($at)->lockForUpdate()->first()?->spec;
            $model = PartModel::query()->updateOrCreate($at, ['spec' => $spec]);
            EventLog::add($person, null, EventKind::PartDescribed, [
                'kind' => $kind,
                'name' => $name,
                'before' => $before,
                'spec' => $spec,
            ]);

            return $model;
        });
    }
}
