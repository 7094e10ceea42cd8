<?php

declare(strict_types=1);

namespace App\Actions;

use App\Instruments\InstrumentFault;
use App\Instruments\Line;
use App\Instruments\Scpi;
use App\Instruments\Supply;
use App\Models\Instrument;
use App\Models\Person;
use App\Models\Run;

/** Instruments of a workshop: added by host and port, asked who they are, proved, taken out of use. */
final class KeepInstrument
{
    /** @param  array{name: string, kind: string, host: string, port: int, place?: string}  $data */
    public function add(Person $person, array $data): Instrument
    {
        if (Instrument::query()->where('workshop_id', $person->workshop_id)->where('host', $data['host'])->where('port', $data['port'])->where('active', true)->exists()) {
            throw new Refused('known', 'There is an instrument at this host and port already.', 422, ['port' => 'Taken by another instrument of this workshop.']);
        }
        $instrument = Instrument::query()->updateOrCreate(['workshop_id' => $person->workshop_id, 'host' => $data['host'], 'port' => $data['port']], ['active' => true, 'identity' => [], 'timer' => '', 'checked_at' => null] + $data);
        EventLog::add($person, null, 'instrument-added', ['name' => $instrument->name, 'kind' => $instrument->kind]);

        return $instrument;
    }

    /** Asks it who it is; a supply must show that it switches off by itself, with nothing on its output. */
    public function identify(Person $person, Instrument $i): Instrument
    {
        if (Run::query()->where('workshop_id', $person->workshop_id)->whereNull('ended_at')->whereJsonContains('plan->instruments', $i->id)->exists()) {
            throw new Refused('in-use', "{$i->name} drives a run: identify it when that is over.");
        }
        try {
            if ($i->kind === 'board') {
                $line = new Line($i->host, $i->port, 1.5);
                $first = $line->ask('report');
                $i->fill(['identity' => ['maker' => 'board report', 'model' => trim($first, '# '), 'serial' => '', 'firmware' => ''], 'simulated' => false]);
            } else {
                $scpi = new Scpi($i->host, $i->port, 1.5);
                $identity = $scpi->identity();
                $kind = $scpi->kind();
                if ($kind !== 'unknown' && $kind !== $i->kind) {
                    throw new InstrumentFault("This is a $kind, entered as {$i->kind}: correct the kind.");
                }
                $timer = $i->kind === 'supply' ? (new Supply($i->host, $i->port, 1.5))->provesItself() : null;
                $i->fill(['identity' => $identity, 'simulated' => $identity['simulated'], 'timer' => $timer ?? '']);
            }
        } catch (InstrumentFault $e) {
            throw new Refused('silent', "{$i->name}: ".$e->getMessage());
        }
        $i->fill(['checked_at' => now()])->save();
        EventLog::add($person, null, 'instrument-identified', ['name' => $i->name, 'model' => $i->identity['model'] ?? '', 'timer' => $i->timer]);

        return $i;
    }

    public function retire(Person $person, Instrument $i): void
    {
        $i->update(['active' => false]);
        EventLog::add($person, null, 'instrument-retired', ['name' => $i->name]);
    }
}
