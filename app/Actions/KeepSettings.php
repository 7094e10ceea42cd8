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
