<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Customer;
use App\Models\Pack;
use App\Models\PackCapacity;
use App\Models\PackOwner;
use App\Models\Person;
use App\Read\Passport;
use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Collection;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;

/**
 * A whole wall of an owner's packs, read at one time: every row a reading, or what its groups hold; packs that were never seen here begin
 * with it. All of it or nothing.
 */
final class KeepWall
{
    public function __construct(private readonly KeepServiceReading $readings) {}

    /**
     * @param  array{what: 'volts'|'ah', at: string, condition: string, soc?: float|null, pack?: array<string, mixed>|null,
     *     rows: list<array{name: string, soc?: float|null, resolution_v?: float|null, values: list<float|null>}>}  $wall  pack: what the
     *     packs are that are new here
     * @return int packs that were new
     *
     * @throws Refused a row is of two packs or of none that is described, or has not as many values as its pack has groups
     */
    public function handle(Person $person, Customer $customer, array $wall): int
    {
        return DB::transaction(function () use ($person, $customer, $wall): int {
            KeepServiceReading::past(CarbonImmutable::parse($wall['at']), 'at');
            Customer::query()->whereKey($customer->id)->lockForUpdate()->firstOrFail();
            $known = self::known($customer);
            $problems = $mine = $taken = [];
            $new = 0;
            foreach ($wall['rows'] as $i => $row) {
                $found = self::match($known, $row['name']);
                if (count($found) > 1) {
                    $problems["rows.$i.name"] = "\"{$row['name']}\" is more than one pack of theirs: give its code or its serial.";

                    continue;
                }
                $pack = $found[0] ?? null;
                if ($pack === null && ($wall['pack'] ?? null) === null) {
                    $problems["rows.$i.name"] = "\"{$row['name']}\" is new here: say what the new ones are, or mend its name.";

                    continue;
                }
                $series = $pack === null ? (int) ($wall['pack']['series'] ?? 0) : $pack->packSpec()->series;
                if (count($row['values']) !== $series) {
                    $n = count($row['values']);
                    $problems["rows.$i.values"] = sprintf('%s has %d groups, and %d were read.', $row['name'], $series, $n);

                    continue;
                }
                if (array_filter($row['values'], fn(?float $v): bool => $v !== null) === []) {
                    $problems["rows.$i.values"] = "Nothing was read of {$row['name']}: leave its row out.";

                    continue;
                }
                if ($pack === null) {
                    $pack = $this->open($person, $customer, $row['name'], (array) $wall['pack']);
                    $known->push($pack);
                    $new++;
                }
                if (isset($taken[$pack->id])) {
                    $problems["rows.$i.name"] = "\"{$row['name']}\" is the pack of another row: {$pack->name}.";
                }
                $taken[$pack->id] = true;
                $mine[$i] = $pack;
            }
            if ($problems !== []) {
                throw new Refused('no-wall', implode(' ', array_slice($problems, 0, 3)), 422, $problems);
            }
            foreach ($wall['rows'] as $i => $row) {
                match ($wall['what']) {
                    'ah' => $this->capacity($person, $mine[$i], $wall, $row),
                    default => $this->reading($person, $mine[$i], $wall, $row, $i),
                };
            }
            EventLog::add($person, null, EventKind::WallRead, [
                'customer' => $customer->id,
                'packs' => count($wall['rows']),
                'new' => $new,
                'what' => $wall['what'],
            ]);

            return $new;
        });
    }

    /** @return Collection<int, Pack> */
    public static function known(Customer $customer): Collection
    {
        /** @var Collection<int, Pack> $packs */
        $packs = Pack::query()->where('workshop_id', $customer->workshop_id)->where('customer_id', $customer->id)->get();

        return $packs;
    }

    /**
     * The packs that a row may mean: by code or serial, else by name.
     *
     * @param  Collection<int, Pack>  $known
     * @return list<Pack>
     */
    public static function match(Collection $known, string $name): array
    {
        $plain = fn(string $s): string => mb_strtolower(trim((string) preg_replace('/\s+/', ' ', $s)));
        $typed = $plain($name);
        $exact = $known->filter(
            fn(Pack $p): bool => $typed !== '' && ($plain(Passport::code($p->code)) === $typed || $plain($p->serial) === $typed),
        );

        return array_values(($exact->isNotEmpty() ? $exact : $known->filter(fn(Pack $p): bool => $plain($p->name) === $typed))->all());
    }

    /** @param  array<string, mixed>  $spec */
    private function open(Person $person, Customer $customer, string $name, array $spec): Pack
    {
        $pack = Pack::query()->create([
            'workshop_id' => $person->workshop_id,
            'code' => KeepPack::freeCode($person->workshop_id),
            'serial' => '',
            'customer_id' => $customer->id,
            'name' => trim($name),
            'spec' => array_replace($spec, ['name' => trim($name)]),
        ]);
        PackOwner::query()->create(['pack_id' => $pack->id, 'customer_id' => $customer->id, 'from_at' => now()]);

        return $pack;
    }

    /**
     * @param  array<string, mixed>  $wall
     * @param  array<string, mixed>  $row
     */
    private function reading(Person $person, Pack $pack, array $wall, array $row, int $i): void
    {
        try {
            $this->readings->keep(
                $person,
                $pack,
                [
                    array_filter(
                        [
                            'id' => (string) Str::uuid7(),
                            'at' => $wall['at'],
                            'condition' => $wall['condition'],
                            'soc' => $row['soc'] ?? ($wall['soc'] ?? null),
                            'groups_v' => $row['values'],
                            'resolution_v' => $row['resolution_v'] ?? null,
                        ],
                        fn(mixed $x): bool => $x !== null,
                    ),
                ],
                true,
            );
        } catch (Refused $e) {
            throw new Refused($e->reason, "{$row['name']}: {$e->getMessage()}", $e->status, ["rows.$i.values" => $e->getMessage()]);
        }
    }

    /**
     * @param  array<string, mixed>  $wall
     * @param  array<string, mixed>  $row
     */
    private function capacity(Person $person, Pack $pack, array $wall, array $row): void
    {
        PackCapacity::query()->create([
            'id' => (string) Str::uuid7(),
            'workshop_id' => $person->workshop_id,
            'pack_id' => $pack->id,
            'at' => CarbonImmutable::parse((string) $wall['at']),
            'told_at' => now(),
            'person_id' => $person->id,
            'groups_ah' => $row['values'],
        ]);
    }
}
