<?php

declare(strict_types=1);

namespace App\Actions;

use App\Instruments\Desk;
use App\Instruments\Identity;
use App\Instruments\InstrumentFault;
use App\Instruments\Line;
use App\Instruments\Lines;
use App\Instruments\Locks;
use App\Instruments\Reach;
use App\Instruments\Scpi;
use App\Instruments\Supply;
use App\Models\Instrument;
use App\Models\Person;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use Illuminate\Support\Facades\DB;

/** Instruments of a workshop: added by host and port, asked who they are, proved, taken out of use. */
final class KeepInstrument
{
    /** @param  array{name: string, kind: string, host: string, port: int, place?: string, timeout_s?: float, channel?: int|null}  $data */
    public function add(Person $person, array $data): Instrument
    {
        $reach = Reach::of($person->workshop->said()->text('instrument_networks'));
        $at = $reach->judge($data['host'], $data['port']);
        if ($at['address'] === null) {
            throw new Refused('not-allowed', $at['why'], 422, ['host' => $at['why']]);
        }
        if (
            !$reach->isBench($at['address'], $data['port']) &&
            Instrument::query()
                ->where('workshop_id', '!=', $person->workshop_id)
                ->where('port', $data['port'])
                ->where('active', true)
                ->get()
                ->contains(fn(Instrument $o): bool => Identity::address($o->host) === Identity::address($data['host']))
        ) {
            throw new Refused('not-allowed', 'The instrument at this address belongs to another workshop.', 422, [
                'host' => 'The instrument at this address belongs to another workshop.',
            ]);
        }
        $there = Instrument::query()
            ->where('workshop_id', $person->workshop_id)
            ->where('port', $data['port'])
            ->where('active', true)
            ->get();
        foreach ($there as $other) {
            if (Identity::address($other->host) === Identity::address($data['host']) && $other->channel === ($data['channel'] ?? null)) {
                throw new Refused('known', "At this address is {$other->name} already.", 422, ['port' => "Taken by {$other->name}."]);
            }
        }

        return DB::transaction(function () use ($person, $data): Instrument {
            $instrument = Instrument::query()->updateOrCreate(
                ['workshop_id' => $person->workshop_id, 'host' => $data['host'], 'port' => $data['port']],
                ['active' => true, 'identity' => [], 'timer' => '', 'style' => '', 'checked_at' => null] + $data,
            );
            SecurityLog::add(SecurityEvent::InstrumentAddress, $person, null, [
                'name' => $instrument->name,
                'host' => $instrument->host,
                'port' => $instrument->port,
            ]);
            EventLog::add($person, null, EventKind::InstrumentAdded, ['name' => $instrument->name, 'kind' => $instrument->kind]);

            return $instrument;
        });
    }

    /** Output to earth, measured by a person, for whether it may share a pack with others. */
    public function isolation(Person $person, Instrument $i, float $mohm): Instrument
    {
        return DB::transaction(function () use ($person, $i, $mohm): Instrument {
            $i->update(['isolation_mohm' => $mohm, 'isolation_at' => now()]);
            EventLog::add($person, null, EventKind::InstrumentIsolation, ['name' => $i->name, 'mohm' => $mohm]);

            return $i;
        });
    }

    /** Asks it who it is; a supply must show that it switches off by itself, with nothing on its output. */
    public function identify(Person $person, Instrument $i): Instrument
    {
        $locks = new Locks();
        if (Claims::isTaken($i) || !$locks->take([Claims::key($i)])) {
            throw new Refused('in-use', "{$i->name} is in use: identify it when it is free.");
        }
        try {
            if ($i->kind === 'board') {
                $first = (new Line($i->address(), $i->port, max(1.5, $i->timeout_s)))->ask('report');
                if (preg_match('/^#\s*([A-Za-z0-9 .,:_\/()+-]{1,80})$/D', $first, $m) !== 1) {
                    throw new InstrumentFault('It answers, but not with a report of a board: is it the right port?');
                }
                $i->fill([
                    'identity' => ['maker' => 'board report', 'model' => trim($m[1]), 'serial' => '', 'firmware' => ''],
                    'simulated' => false,
                ]);
            } else {
                $this->ask($i, $locks);
            }
        } catch (InstrumentFault $e) {
            // Whatever it was proved to be before, it is not any more.
            $i->fill(['timer' => '', 'checked_at' => null])->save();
            throw new Refused('silent', "{$i->name}: " . $e->getMessage());
        } finally {
            Lines::closeAll();
            $locks->release();
        }
        $i->fill(['checked_at' => now()])->save();
        EventLog::add($person, null, EventKind::InstrumentIdentified, [
            'name' => $i->name,
            'model' => $i->identity['model'] ?? '',
            'timer' => $i->timer,
        ]);

        return $i;
    }

    private function ask(Instrument $i, Locks $locks): void
    {
        $timeout = max(1.5, $i->timeout_s);
        $style =
            $i->channel === null
                ? ''
                : Scpi::styleOf($i->address(), $i->port, $i->channel, $timeout) ??
                    throw new InstrumentFault("It does not know a channel {$i->channel} in any of the ways that are usual.");
        $scpi = new Scpi($i->address(), $i->port, $timeout, $i->channel, $style);
        $identity = $scpi->identity();
        $key = Identity::key($identity, $i->host, $i->port);
        $twin = Instrument::query()
            ->where('workshop_id', $i->workshop_id)
            ->where('active', true)
            ->where('id', '!=', $i->id)
            ->get()
            ->first(fn(Instrument $o): bool => $o->checked_at !== null && Claims::key($o) === $key && $o->channel === $i->channel);
        if ($twin !== null) {
            throw new InstrumentFault("This is the same instrument as {$twin->name}: keep it under one name.");
        }
        if (!$locks->take([$key])) {
            throw new InstrumentFault('It is in use: identify it when it is free.');
        }
        $kind = $scpi->kind();
        if ($kind !== 'unknown' && $kind !== $i->kind) {
            throw new InstrumentFault("This is a $kind, entered as {$i->kind}: correct the kind.");
        }
        $timer = '';
        if ($i->kind === 'supply') {
            $supply = new Supply($i->address(), $i->port, $timeout, $i->channel, $style);
            $timer = $supply->provesItself() ?? '';
            $identity += $supply->most();
        }
        $i->fill(['identity' => $identity, 'simulated' => $identity['simulated'], 'timer' => $timer, 'style' => $style]);
    }

    public function retire(Person $person, Instrument $i): void
    {
        if (Claims::isTaken($i)) {
            throw new Refused('in-use', "{$i->name} is in use: take it out when it is free.");
        }
        $i->update(['active' => false]);
        Desk::take(Claims::key($i));
        EventLog::add($person, null, EventKind::InstrumentRetired, ['name' => $i->name]);
    }
}
