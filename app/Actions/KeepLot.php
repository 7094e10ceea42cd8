<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Cell;
use App\Models\Lot;
use App\Models\Person;
use App\Read\Lots;
use Illuminate\Support\Facades\DB;

/** Takes a delivery or sends it back, once its sample was tested; and what was not said of it when it came. */
final class KeepLot
{
    /**
     * @param  array<string, mixed>  $said  state, reason, supplier, date_code, price_cents
     *
     * @throws Refused against what its sample says without a reason
     */
    public function handle(Person $person, Lot $lot, array $said, ?string $version): Lot
    {
        return DB::transaction(function () use ($person, $lot, $said, $version): Lot {
            $said = array_filter($said, fn(mixed $v): bool => $v !== null);
            $lot = Version::lock($lot, $version, array_keys($said));
            if (isset($said['state'])) {
                $inspection = Lots::inspect(Cell::query()->where('lot_id', $lot->id)->get());
                $agrees = $inspection->outcome === ($said['state'] === 'taken' ? 'take' : 'refuse');
                if (!$agrees && trim((string) ($said['reason'] ?? '')) === '') {
                    throw new Refused('no-reason', "{$inspection->text} Say why it is done all the same.", 422, [
                        'reason' => 'Say why, such as what the supplier was told.',
                    ]);
                }
                $said += ['reason' => ''];
                $said += ['decided_by' => $person->id, 'decided_at' => now()];
                EventLog::add($person, null, EventKind::LotDecided, [
                    'lot' => $lot->name,
                    'state' => $said['state'],
                    'outcome' => $inspection->outcome,
                    'reason' => $said['reason'],
                ]);
            } else {
                unset($said['reason']);
            }
            $lot->fill($said);
            $lot->version++;
            $lot->save();

            return $lot;
        });
    }
}
