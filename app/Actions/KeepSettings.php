<?php

declare(strict_types=1);

namespace App\Actions;

use App\Instruments\Reach;
use App\Models\CellModel;
use App\Models\PackModel;
use App\Models\Person;
use App\Models\Workshop;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use Heartwood\Core\Shop\Settings;
use Illuminate\Support\Facades\DB;

/** What the owner says of the shop: settings, each back to its default by null, and the price list. */
final class KeepSettings
{
    /** @param  array<string, mixed>  $values  by key; null goes back to the default */
    public function handle(Person $owner, ?string $name, array $values, ?string $version): Workshop
    {
        $wrong = [];
        foreach ($values as $key => $value) {
            $setting = Settings::all()[$key] ?? null;
            $why = $setting === null ? 'There is no such setting.' : ($value === null ? null : $setting->refuses($value));
            $why ??= $key === 'instrument_networks' && is_string($value) ? Reach::complaint($value) : null;
            if ($why !== null) {
                $wrong["values.$key"] = $why;
            }
        }
        if ($wrong !== []) {
            throw new Refused('invalid', (string) reset($wrong), 422, $wrong);
        }

        return DB::transaction(function () use ($owner, $name, $values, $version): Workshop {
            $workshop = Version::lock(Workshop::query()->whereKey($owner->workshop_id)->firstOrFail(), $version, []);
            $before = $workshop->said()->values() + ['name' => $workshop->name];
            $stored = $workshop->settings;
            foreach ($values as $key => $value) {
                if ($value === null || $value === Settings::all()[$key]->default) {
                    unset($stored[$key]);
                } else {
                    $stored[$key] = $value;
                }
            }
            $workshop->settings = $stored;
            $workshop->name = $name ?? $workshop->name;
            $workshop->version++;
            $workshop->save();
            $after = $workshop->said()->values() + ['name' => $workshop->name];
            $changed = [];
            foreach ($after as $key => $value) {
                if ($value !== $before[$key]) {
                    $changed[$key] = ['from' => $before[$key], 'to' => $value];
                }
            }
            if ($changed !== []) {
                EventLog::add($owner, null, EventKind::Settings, $changed);
                SecurityLog::add(SecurityEvent::SettingsChanged, $owner, null, ['changed' => $changed]);
            }

            return $workshop;
        });
    }

    /**
     * A cell as its maker describes it: new, or said anew.
     *
     * @param  array<string, mixed>  $said  name, chemistry, price_cents and the fields of the record's `cell`
     */
    public function model(Person $owner, ?CellModel $model, array $said, ?string $version): CellModel
    {
        return DB::transaction(function () use ($owner, $model, $said, $version): CellModel {
            $spec = array_filter(
                array_diff_key($said, array_flip(['name', 'chemistry', 'price_cents'])),
                fn(mixed $v): bool => $v !== null,
            );
            $taken = CellModel::query()
                ->where('workshop_id', $owner->workshop_id)
                ->where('name', $said['name'])
                ->where('id', '!=', $model->id ?? 0)
                ->exists();
            if ($taken) {
                throw new Refused('name-taken', "{$said['name']} is in the list already.", 422, ['name' => 'In the list already.']);
            }
            $from = $model?->price_cents;
            $row =
                $model === null
                    ? new CellModel(['workshop_id' => $owner->workshop_id])
                    : Version::lock($model, $version, array_keys($said));
            $row->fill([
                'name' => $said['name'],
                'chemistry' => $said['chemistry'],
                'spec' => ['model' => $said['name']] + $spec + ($row->spec ?? []),
                'price_cents' => $said['price_cents'],
            ]);
            $row->version = $model === null ? 1 : $row->version + 1;
            $row->save();
            $what = ['model' => $row->name, 'from' => $from, 'to' => $row->price_cents];
            EventLog::add($owner, null, EventKind::PriceChanged, $what);
            SecurityLog::add(SecurityEvent::PriceChanged, $owner, null, $what);

            return $row;
        });
    }

    public function price(Person $owner, CellModel|PackModel $model, ?int $cents, ?string $version): void
    {
        DB::transaction(function () use ($owner, $model, $cents, $version): void {
            $model = Version::lock($model, $version, ['price_cents']);
            $from = $model->price_cents;
            $model->price_cents = $cents;
            $model->version++;
            $model->save();
            $what = ['model' => $model->name, 'from' => $from, 'to' => $cents];
            EventLog::add($owner, null, EventKind::PriceChanged, $what);
            SecurityLog::add(SecurityEvent::PriceChanged, $owner, null, $what);
        });
    }
}
