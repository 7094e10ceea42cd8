<?php

declare(strict_types=1);

namespace App\Demo;

use App\Actions\KeepCells;
use App\Models\Job;
use App\Models\Person;
use Heartwood\Core\Cell\GradeRules;
use Illuminate\Support\Facades\DB;

/** The demo's drawer: two lots, most of them tested, a few out; and what is known of one pack's current path. */
final class DemoDrawer
{
    private int $state = 41;

    public function __construct(private readonly KeepCells $cells) {}

    public function load(Person $person): void
    {
        $tray = [];
        for ($i = 1; $i <= 54; $i++) {
            $tray[] =
                $i > 50
                    ? ['origin' => 'new']
                    : [
                        'capacity_ah' => round(2.93 * (1 + 0.018 * $this->gauss()), 3),
                        'mohm' => round(33.5 * (1 + 0.035 * $this->gauss()), 1),
                        'rest_v' => round(3.58 + 0.004 * $this->gauss(), 3),
                        'leak_percent_month' => round(1.2 + 0.4 * $this->gauss(), 1),
                        'origin' => 'new',
                    ];
        }
        $tray[7]['capacity_ah'] = 2.21;
        $tray[19]['mohm'] = 61.0;
        $tray[33]['leak_percent_month'] = 17.5;
        $kept = $this->cells->tray(
            $person,
            ['name' => 'QD31-A', 'supplier' => 'Harbour Cell Traders', 'date_code' => '26-31', 'price_cents' => 430],
            'QD-31',
            'nmc',
            3.0,
            $tray,
        );
        $this->cells->grade($person, array_map(fn($c): int => $c->id, $kept), new GradeRules(3.0));
        $old = [];
        for ($i = 1; $i <= 16; $i++) {
            $old[] = [
                'capacity_ah' => round(1.62 * (1 + 0.05 * $this->gauss()), 3),
                'mohm' => round(31 * (1 + 0.09 * $this->gauss()), 1),
                'rest_v' => 3.61,
                'origin' => 'salvaged',
            ];
        }
        $this->cells->tray($person, ['name' => 'SHEARS-9', 'supplier' => 'out of Shears 9'], 'QL-18', 'nmc', 2.4, $old);
        // A delivery of which three of five are tested.
        $new = array_fill(0, 12, ['origin' => 'new']);
        foreach ([2.98, 3.01, 2.97] as $i => $ah) {
            $new[$i] += ['capacity_ah' => $ah, 'mohm' => 33.0 + 0.4 * $i, 'rest_v' => 3.59];
        }
        $this->cells->tray(
            $person,
            ['name' => 'QD31-B', 'supplier' => 'Pier Nine Cells', 'date_code' => '26-44', 'price_cents' => 395, 'inspect' => true],
            'QD-31',
            'nmc',
            3.0,
            $new,
        );
        $trike = Job::query()->where('workshop_id', $person->workshop_id)->where('name', 'Delivery trike')->first();
        if ($trike instanceof Job) {
            foreach (
                [
                    'budget' => [
                        'strip' => ['material' => 'nickel', 'width_mm' => 8, 'thickness_mm' => 0.15, 'layers' => 1, 'length_mm' => 19],
                        'welds_per_cell' => 4,
                        'wire' => ['awg' => 14],
                        'connector' => ['continuous_a' => 30],
                        'fuse' => ['rating_a' => 30, 'dc_v' => 58, 'breaking_a' => 1000],
                    ],
                    'layout' => ['max_width_mm' => 260],
                ]
                as $kind => $data
            ) {
                DB::table('job_sheets')->insert([
                    'job_id' => $trike->id,
                    'kind' => $kind,
                    'data' => json_encode($data),
                    'kept_by' => $person->id,
                    'kept_at' => now()->format('Y-m-d H:i:s.u'),
                ]);
            }
        }
    }

    /** Numbers that look like cells and are the same each time. */
    private function gauss(): float
    {
        $sum = 0.0;
        for ($i = 0; $i < 12; $i++) {
            $this->state = ($this->state * 1103515245 + 12345) & 0x7fffffff;
            $sum += $this->state / 0x7fffffff;
        }

        return $sum - 6.0;
    }
}
