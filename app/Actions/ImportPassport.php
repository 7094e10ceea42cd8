<?php

declare(strict_types=1);

namespace App\Actions;

use App\Contract\SchemaCheck;
use App\Models\Customer;
use App\Models\Pack;
use App\Models\PackImport;
use App\Models\PackOwner;
use App\Models\Person;
use App\Models\ServiceReading;
use Carbon\CarbonImmutable;
use Heartwood\Core\Drift\Point;
use Heartwood\Core\Record\Canonical;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Service\PassportFile;
use Illuminate\Support\Facades\DB;
use Symfony\Component\Uid\Uuid;

/**
 * A passport of another workshop becomes a pack here, or joins the one that has its serial: kept word for word, its readings among ours as
 * imported, and the watch goes on where nothing is watched here. All of it or nothing.
 */
final class ImportPassport
{
    /**
     * @param  string  $json  as contract/passport.schema.json has it
     * @param  string  $owner  whose it is here: a passport names nobody
     *
     * @throws InvalidRecord with every problem by pointer
     * @throws Refused a pack of this serial is another kind of pack here
     */
    public function handle(Person $person, string $json, string $owner): Pack
    {
        $file = self::read($json);
        $document = (array) json_decode($json, true, 512, JSON_THROW_ON_ERROR);
        $sum = Canonical::hash($document);

        return DB::transaction(function () use ($person, $file, $document, $json, $sum, $owner): Pack {
            $known = PackImport::query()->where('workshop_id', $person->workshop_id)->where('sha256', $sum)->lockForUpdate()->first();
            if ($known !== null) {
                return Pack::query()->whereKey($known->pack_id)->firstOrFail();
            }
            $pack = $this->pack($person, $file, $document, $owner);
            PackImport::query()->create([
                'workshop_id' => $person->workshop_id,
                'pack_id' => $pack->id,
                'person_id' => $person->id,
                'at' => now(),
                'sha256' => $sum,
                'from_workshop' => mb_substr((string) $document['workshop'], 0, 160),
                'document' => $json,
            ]);
            $this->readings($person, $pack, $file);
            $watch = $document['watch'] ?? null;
            if ($watch !== null && $pack->work_ended_at === null && $pack->jobs()->where('status', 'open')->doesntExist()) {
                $every = $watch['topup_every_days'] ?? null;
                $pack->update([
                    'work_ended_at' => CarbonImmutable::parse((string) $watch['work_ended_at'])->utc(),
                    'topup_every_d' => $every === null ? null : max(1, (int) $every),
                ]);
            }
            KeepPack::refresh($pack);
            EventLog::add($person, null, EventKind::PassportImported, ['pack' => $pack->id, 'from' => (string) $document['workshop']]);

            return $pack->refresh();
        });
    }

    private static function read(string $json): PassportFile
    {
        try {
            $data = json_decode($json, false, 512, JSON_THROW_ON_ERROR);
        } catch (\JsonException $e) {
            throw new InvalidRecord([['pointer' => '', 'message' => 'this is not JSON: ' . $e->getMessage()]]);
        }
        $problems = SchemaCheck::problems($data, 'passport.schema.json');
        $spec = $data->pack->spec ?? null;
        if ($problems === [] && $spec !== null) {
            // A pack that this version cannot compute with is none here.
            $problems = array_map(
                fn(array $p): array => ['pointer' => '/pack/spec' . substr($p['pointer'], strlen('/pack')), 'message' => $p['message']],
                array_values(
                    array_filter(
                        SchemaCheck::problems(
                            (object) [
                                'format' => 'heartwood.drift',
                                'version' => 1,
                                'pack' => $spec,
                                'points' => [],
                                'work_ended_at' => '2026-01-01T00:00:00Z',
                            ],
                            'drift.schema.json',
                        ),
                        // What a later version says more of a pack is kept, and not refused.
                        fn(array $p): bool => !str_contains($p['message'], 'is not known here'),
                    ),
                ),
            );
        }
        if ($problems !== []) {
            throw new InvalidRecord($problems);
        }
        $file = PassportFile::of((array) json_decode($json, true, 512, JSON_THROW_ON_ERROR));
        if ($file->problems() !== []) {
            throw new InvalidRecord($file->problems());
        }

        return $file;
    }

    /** @param  array<string, mixed>  $document */
    private function pack(Person $person, PassportFile $file, array $document, string $owner): Pack
    {
        $serial = trim((string) $document['pack']['serial']);
        $customer = Customer::named($person->workshop_id, $owner);
        /** @var Pack|null $pack */
        $pack =
            $serial === ''
                ? null
                : Pack::query()->where('workshop_id', $person->workshop_id)->where('serial', $serial)->lockForUpdate()->first();
        if ($pack !== null) {
            $spec = $file->spec();
            $own = $pack->packSpec();
            if ($own->series !== $spec->series || $own->chemistry !== $spec->chemistry) {
                throw new Refused(
                    'other-pack',
                    "Serial $serial is a pack of {$own->series} groups, {$own->chemistry->value}, here: this passport is of another one.",
                    422,
                    ['passport' => 'Choose the passport of this pack.'],
                );
            }
            KeepPack::owned($pack, $customer->id);

            return $pack;
        }
        $pack = Pack::query()->create([
            'workshop_id' => $person->workshop_id,
            'code' => KeepPack::freeCode($person->workshop_id),
            'serial' => $serial,
            'customer_id' => $customer->id,
            'name' => mb_substr((string) $document['pack']['name'], 0, 160),
            'spec' => $document['pack']['spec'],
        ]);
        PackOwner::query()->create(['pack_id' => $pack->id, 'customer_id' => $customer->id, 'from_at' => now()]);

        return $pack;
    }

    /** Each once, under a name of its own that follows from the pack and the name it had. */
    private function readings(Person $person, Pack $pack, PassportFile $file): void
    {
        $rows = [];
        $now = CarbonImmutable::now();
        foreach ($file->readings() as $r) {
            $at = CarbonImmutable::parse((string) $r->string('at'))->utc();
            if ($at->greaterThan($now)) {
                continue;
            }
            $id = (string) Uuid::v5(Uuid::fromString((string) $r->string('id')), "pack {$pack->id}");
            $json = fn(string $field): ?string => $r->has($field) ? json_encode($r->numbers($field), JSON_THROW_ON_ERROR) : null;
            $rows[$id] = [
                'id' => $id,
                'workshop_id' => $pack->workshop_id,
                'pack_id' => $pack->id,
                'at' => $at->format('Y-m-d H:i:s.u'),
                'told_at' => $now->format('Y-m-d H:i:s.u'),
                'source' => 'import',
                'person_id' => $person->id,
                'condition' => $r->string('condition'),
                'soc' => $r->float('soc'),
                'groups_v' => $json('groups_v'),
                'highest_v' => $r->float('highest_v'),
                'lowest_v' => $r->float('lowest_v'),
                'pack_v' => $r->float('pack_v'),
                'halves_v' => $json('halves_v'),
                'resolution_v' => $r->float('resolution_v') ?? Point::RESOLUTION_V,
                'note' => mb_substr("{$r->string('source')}, there", 0, 400),
            ];
        }
        $known = ServiceReading::query()->where('pack_id', $pack->id)->whereIn('id', array_keys($rows))->pluck('id')->all();
        foreach (array_chunk(array_diff_key($rows, array_flip($known)), 200) as $some) {
            ServiceReading::query()->insert($some);
        }
    }
}
