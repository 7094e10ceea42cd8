<?php

declare(strict_types=1);

namespace App\Demo;

use App\Actions\KeepInstrument;
use App\Actions\Refused;
use App\Instruments\Identity;
use App\Instruments\InstrumentFault;
use App\Instruments\Scpi;
use App\Models\CellModel;
use App\Models\Customer;
use App\Models\Instrument;
use App\Models\PackModel;
use App\Models\Person;
use App\Models\Workshop;
use App\StandIn\Server;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\Hash;
use Illuminate\Support\Str;

/** An invented workshop on an island harbour: people, cells, pack models, and its jobs (see DemoJobs). */
final class DemoWorkshop
{
    public const PASSWORD = 'growth-rings';

    public const PEOPLE = [
        ['Maren Oake', 'maren@gannetquay.example', 'owner'],
        ['Tobiah Reeve', 'tobiah@gannetquay.example', 'senior'],
        ['Sunniva Lark', 'sunniva@gannetquay.example', 'technician'],
        ['Piet Aldous', 'piet@gannetquay.example', 'trainee'],
    ];

    /** Personal codes for handing the bench over, by role. */
    public const CODES = ['owner' => '402817', 'senior' => '719350', 'technician' => '583164', 'trainee' => '246095'];

    private const CELLS = [
        [
            'QL-30',
            'nmc',
            [
                'format' => '21700',
                'capacity_ah' => 4.1,
                'max_continuous_a' => 9.0,
                'peak_a' => 14.0,
                'peak_s' => 10,
                'max_charge_a' => 3.0,
                'resistance_mohm' => 22,
            ],
            540,
        ],
        [
            'QL-18',
            'nmc',
            [
                'format' => '18650',
                'capacity_ah' => 2.4,
                'max_continuous_a' => 12.0,
                'peak_a' => 20.0,
                'peak_s' => 10,
                'max_charge_a' => 2.0,
                'resistance_mohm' => 26,
            ],
            390,
        ],
        [
            'QF-50',
            'lfp',
            [
                'format' => 'prismatic',
                'capacity_ah' => 52.0,
                'max_continuous_a' => 52.0,
                'peak_a' => 100.0,
                'peak_s' => 10,
                'max_charge_a' => 26.0,
                'resistance_mohm' => 0.9,
            ],
            3900,
        ],
        [
            'QP-27',
            'lco',
            [
                'format' => 'pouch',
                'capacity_ah' => 2.7,
                'max_continuous_a' => 4.0,
                'peak_a' => 6.0,
                'peak_s' => 5,
                'max_charge_a' => 1.8,
                'resistance_mohm' => 48,
            ],
            850,
        ],
        [
            'QN-33',
            'nca',
            [
                'format' => '18650',
                'capacity_ah' => 3.3,
                'max_continuous_a' => 8.0,
                'peak_a' => 12.0,
                'peak_s' => 10,
                'max_charge_a' => 1.6,
                'resistance_mohm' => 34,
            ],
            470,
        ],
        [
            'QD-31',
            'nmc',
            [
                'format' => '18650',
                'capacity_ah' => 3.0,
                'full_v' => 4.2,
                'cutoff_v' => 2.5,
                'max_continuous_a' => 8.0,
                'peak_a' => 12.0,
                'peak_s' => 10,
                'max_charge_a' => 1.5,
                'resistance_mohm' => 33,
            ],
            430,
        ],
    ];

    public function __construct(private readonly CarbonImmutable $now) {}

    /** @return int how many jobs were loaded */
    public function load(): int
    {
        $workshop = Workshop::query()->create([
            'name' => 'Gannet Quay Bench',
            'settings' => [
                'rate_cents' => 5400,
                'fee_cents' => 1900,
                'new_per_wh_cents' => 58.0,
                'cell_cents' => 500,
                'currency' => 'EUR',
                'tax_name' => 'VAT',
                'tax_percent' => 21.0,
                'timezone' => 'Atlantic/Azores',
                // The simulated mailbox: nothing goes anywhere.
                'mail_host' => '127.0.0.1',
                'mail_port' => (int) config('heartwood.mail_port'),
                'mail_security' => 'none',
                'mail_sender' => 'bench@gannetquay.example',
            ],
            'demo' => true,
        ]);
        $people = [];
        foreach (self::PEOPLE as [$name, $email, $role]) {
            $people[$role] = Person::query()->create([
                'workshop_id' => $workshop->id,
                'name' => $name,
                'email' => $email,
                'password' => self::PASSWORD,
                'role' => $role,
                'competence' => [],
                'code_hash' => Hash::make(self::CODES[$role]),
            ]);
        }
        $specs = [];
        foreach (self::CELLS as [$name, $chemistry, $spec, $price]) {
            $specs[$name] = ['model' => $name] + $spec;
            CellModel::query()->create([
                'workshop_id' => $workshop->id,
                'name' => $name,
                'chemistry' => $chemistry,
                'spec' => $specs[$name],
                'price_cents' => $price,
            ]);
        }
        $models = [];
        foreach (self::packs($specs) as $key => [$name, $spec]) {
            $models[$key] = PackModel::query()->create(['workshop_id' => $workshop->id, 'name' => $name, 'spec' => $spec]);
        }

        $jobs = (new DemoJobs($this->now, $people, $models))->load();
        app(DemoDrawer::class)->load(self::of($people, 'technician'));
        $customers = 0;
        foreach (Customer::query()->where('workshop_id', $workshop->id)->orderBy('id')->pluck('name', 'id')->all() as $id => $name) {
            $i = $customers++;
            Customer::query()
                ->where('id', $id)
                ->update([
                    'phone' => sprintf('0555 %02d %02d %02d', 21 + 7 * $i, 14 + 3 * $i, 80 - 2 * $i),
                    'email' => Str::slug($name) . '@customers.example',
                    'agreements' => $i % 3 === 0 ? 'Old cells come back with the pack.' : '',
                ]);
        }
        self::of($people, 'technician')->update([
            'competence' => [
                ['what' => 'Spot welding', 'note' => 'alone since the spring', 'at' => $this->now->subMonths(7)->toDateString()],
                ['what' => 'Recovery at the supply', 'note' => 'three attended', 'at' => $this->now->subMonths(2)->toDateString()],
            ],
        ]);
        self::of($people, 'trainee')->update([
            'competence' => [['what' => 'Probing', 'note' => 'alone', 'at' => $this->now->subMonths(1)->toDateString()]],
        ]);
        (new DemoTraining($this->now))->load($people);

        return $jobs;
    }

    /** The simulated bench's instruments, asked and proved as any others are; left unproved while it does not run. */
    public static function instruments(Person $owner, KeepInstrument $keep): void
    {
        $known = Instrument::query()->where('workshop_id', $owner->workshop_id)->where('active', true)->get();
        foreach ($known as $i) {
            self::again($owner, $keep, $i);
        }
        if ($known->isNotEmpty()) {
            return;
        }
        $port = (int) config('heartwood.bench_port');
        foreach (
            ['meter' => 'Bench meter', 'supply' => 'Bench supply', 'load' => 'Bench load', 'board' => 'Board reader']
            as $kind => $name
        ) {
            $i = $keep->add($owner, [
                'name' => $name . ' (simulated)',
                'kind' => $kind,
                'host' => '127.0.0.1',
                'port' => $port + (int) array_search($kind, Server::DEVICES, true),
                'place' => 'Window bench',
            ]);
            try {
                $keep->identify($owner, $i);
            } catch (Refused) {
                continue;
            }
        }
    }

    /** A simulated bench of another version or port is another instrument: it is asked who it is before it is believed. */
    private static function again(Person $owner, KeepInstrument $keep, Instrument $i): void
    {
        if (!$i->simulated || $i->kind === 'board') {
            return;
        }
        try {
            if (Identity::idn((new Scpi($i->address(), $i->port))->identity()) !== Identity::idn($i->identity)) {
                $keep->identify($owner, $i);
            }
        } catch (InstrumentFault | Refused) {
            return;
        }
    }

    /**
     * @param  array<string, array<string, mixed>>  $cells
     * @return array<string, array{string, array<string, mixed>}>
     */
    private static function packs(array $cells): array
    {
        $pack = function (string $kind, string $cell, string $chemistry, int $s, int $p, array $more = []) use ($cells): array {
            $full = ['nmc' => 4.2, 'nca' => 4.2, 'lco' => 4.2, 'lfp' => 3.65][$chemistry] * $s;
            $nominal = ['nmc' => 3.6, 'nca' => 3.6, 'lco' => 3.7, 'lfp' => 3.2][$chemistry] * $s;
            $ah = $cells[$cell]['capacity_ah'] * $p;

            return array_replace_recursive(
                [
                    'kind' => $kind,
                    'chemistry' => $chemistry,
                    'series' => $s,
                    'parallel' => $p,
                    'cell' => $cells[$cell],
                    'label' => [
                        'nominal_v' => round($nominal, 1),
                        'full_v' => round($full, 1),
                        'capacity_ah' => round($ah, 1),
                        'energy_wh' => round($nominal * $ah),
                    ],
                    'bms' => [
                        'series' => $s,
                        'discharge_limit_a' => 30,
                        'charge_limit_a' => 6,
                        'balance' => 'passive',
                        'balance_current_a' => 0.06,
                        'temperature_sensor' => true,
                        'wake' => 'charger',
                    ],
                    'charger' => ['cv_v' => round($full, 1), 'cc_a' => 2.0, 'profile' => $chemistry === 'lfp' ? 'lfp' : 'li-ion'],
                ],
                $more,
            );
        };

        return [
            'cart' => [
                'Luggage cart, 12 groups',
                $pack('light-ev', 'QN-33', 'nca', 12, 6, ['load' => ['power_w' => 600, 'controller_limit_a' => 22]]),
            ],
            'trike' => ['Bakery trike', $pack('e-bike', 'QL-30', 'nmc', 10, 4, ['load' => ['power_w' => 350, 'controller_limit_a' => 18]])],
            'shears' => ['Orchard shears', $pack('tool', 'QL-18', 'nmc', 5, 2, ['load' => ['power_w' => 260]])],
            'scooter' => ['Ferry scooter', $pack('scooter', 'QL-30', 'nmc', 10, 3, ['bms' => ['wake' => 'button']])],
            'block' => [
                'Observatory block',
                $pack('storage', 'QF-50', 'lfp', 8, 1, [
                    'bms' => ['discharge_limit_a' => 60, 'charge_limit_a' => 25, 'balance_current_a' => 0.2],
                ]),
            ],
            'laptop' => ['School laptop', $pack('laptop', 'QP-27', 'lco', 3, 2, ['bms' => ['discharge_limit_a' => 8, 'wake' => 'device']])],
            'lamp' => ['Stage lamp block', $pack('storage', 'QF-50', 'lfp', 4, 1)],
            'post' => ['Island post bike', $pack('e-bike', 'QL-18', 'nmc', 13, 5, ['load' => ['controller_limit_a' => 20]])],
            'chair' => ['Harbour chair', $pack('light-ev', 'QF-50', 'lfp', 8, 1, ['bms' => ['discharge_limit_a' => 60]])],
            'tug' => ['Quay tug, 14 groups', $pack('light-ev', 'QL-30', 'nmc', 14, 5)],
            'radio' => ['Lifeboat radio', $pack('other', 'QL-30', 'nmc', 4, 2)],
        ];
    }

    /** @param  array<string, Person>  $people */
    private static function of(array $people, string $role): Person
    {
        return $people[$role] ?? throw new \LogicException("the demo has no $role");
    }
}
