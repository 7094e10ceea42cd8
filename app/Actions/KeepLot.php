<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Cell;
use App\Models\Lot;
use App\Models\Person;
use App\Read\Lots;
use Illuminate\Support\Facades\DB;

/** Takes a delivery or sends it back, once its sample was tested. */
final class KeepLot
{
    /**
     * @param  'taken'|'refused'  $state
     *
     * @throws Refused against what its sample says without a reason
     */
    public function handle(Person $person, Lot $lot, string $state, string $reason, ?string $version): Lot
    {
        return DB::transaction(function () use ($person, $lot, $state, $reason, $version): Lot {
            $lot = Version::lock($lot, $version, ['state', 'reason']);
            $inspection = Lots::inspect(Cell::query()->where('lot_id', $lot->id)->get());
            if ($inspection->outcome !== ($state === 'taken' ? 'take' : 'refuse') && trim($reason) === '') {
                throw new Refused('no-reason', "{$inspection->text} Say why it is done all the same.", 422, [
                    'reason' => 'Say why, such as what the supplier was told.',
                ]);
            }
            $lot->fill(['state' => $state, 'reason' => $reason, 'decided_by' => $person->id, 'decided_at' => now()]);
            $lot->version++;
            $lot->save();
            EventLog::add($person, null, EventKind::LotDecided, [
                'lot' => $lot->name,
                'state' => $state,
                'outcome' => $inspection->outcome,
                'reason' => $reason,
            ]);

            return $lot;
        });
    }
}
