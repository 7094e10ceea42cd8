<?php

declare(strict_types=1);

use App\Actions\KeepPack;
use App\Models\Customer;
use App\Models\Pack;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

// All packs of one owner side by side, each as it was read last.

beforeEach(function (): void {
    $this->bench = (new Workbench($this))->as('technician');
    $this->pack = function (string $name): Pack {
        $job = $this->bench->open();
        $job->update(['name' => $name, 'status' => 'returned', 'closed_at' => now()->subDays(30)]);
        $pack = KeepPack::of($job->refresh());
        $pack->update(['work_ended_at' => now()->subDays(30), 'watch_job_id' => $job->id, 'created_at' => now()->subDays(300)]);

        return $pack->refresh();
    };
    $this->read = fn(Pack $pack, array $volts, int $hoursAgo = 1, array $more = []) => $this->bench
        ->post("packs/{$pack->id}/readings", [
            'readings' => [
                $more + [
                    'id' => (string) Str::uuid7(),
                    'at' => now()->subHours($hoursAgo)->toIso8601ZuluString(),
                    'condition' => 'rest',
                    'soc' => 0.6,
                    'groups_v' => $volts,
                ],
            ],
        ])
        ->assertCreated();
    $this->fleet = fn(Pack $pack, string $query = '') => $this->getJson("/api/customers/{$pack->customer_id}/fleet$query")->assertOk();
});

it('lays the last reading of each pack beside the others, and says which group is topped up', function (): void {
    [$a, $b, $c] = [($this->pack)('Block A'), ($this->pack)('Block B'), ($this->pack)('Block C')];
    ($this->read)($a, [3.8, 3.8, 3.6, 3.8], 90);
    ($this->read)($a, [3.8, 3.8, 3.74, 3.8]);
    ($this->read)($b, [3.8, 3.801, 3.8, 3.8]);
    $slip = ($this->read)($b, [3.8, 3.801, 3.2, 3.8], 0);
    $this->bench->post("packs/{$b->id}/readings/{$slip->json('readings.0.id')}/back", ['reason' => 'Another pack.'])->assertOk();
    $seen = ($this->fleet)($a);
    expect(Contract::complaints($seen, 'get', '/api/customers/{customer}/fleet'))
        ->toBe([])
        ->and($seen->json('result.comparable'))
        ->toBeTrue()
        ->and($seen->json('result.lowest'))
        ->toMatchArray(['pack' => 'Block A', 'group' => 3, 'v' => 3.74])
        ->and($seen->json('result.topping.0'))
        ->toMatchArray(['pack' => 'Block A', 'group' => 3, 'order' => 1])
        ->and(count($seen->json('result.topping')))
        ->toBe(1)
        ->and(array_column($seen->json('packs'), 'groups_v', 'name')['Block C'])
        ->toBeNull()
        ->and($seen->json('middle_v'))
        ->toEqualWithDelta(3.8, 1e-9)
        ->and(array_map('round', array_column($seen->json('packs'), 'off_mv', 'name')['Block A']))
        ->toEqual([0, 0, -60, 0])
        ->and($seen->json('lead_weeks'))
        ->toEqual(6)
        ->and($seen->json('level'))
        ->toEqual(0.95)
        ->and($seen->json('in_place'))
        ->not->toBe([])
        ->and($seen->json('spares'))
        ->toStartWith('Keep ');
    $slow = $seen->json('result.topping.0.hours');
    expect(($this->fleet)($a, '?supply_a=5')->json('result.topping.0.hours'))->toBeLessThan($slow);
    expect($c->customer_id)->toBe($a->customer_id);
});

it('leaves packs of another kind out, and says so; without a reading there is nothing to lay', function (): void {
    $a = ($this->pack)('Block A');
    $other = ($this->pack)('Lamp');
    $more = ($this->pack)('Block B');
    $other->update(['spec' => ['chemistry' => 'lfp', 'series' => 8] + $other->spec]);
    $none = ($this->fleet)($a);
    expect($none->json('result'))->toBeNull()->and($none->json('others'))->toBe(1)->and(count($none->json('packs')))->toBe(2);
    ($this->read)($a, [3.8, 3.8, 3.8, 3.8]);
    ($this->read)($more, [3.9, 3.9, 3.9, 3.9], more: ['soc' => 0.8]);
    expect(($this->fleet)($a)->json('result.comparable'))
        ->toBeFalse()
        ->and(($this->fleet)($a)->json('result.topping'))
        ->toBe([]);
});

it('keeps more spares the longer one takes to come, and shows nothing of another workshop', function (): void {
    $a = ($this->pack)('Block A');
    for ($i = 0; $i < 5; $i++) {
        ($this->pack)("Block $i");
    }
    $keeps = fn(string $query): int => (int) substr(($this->fleet)($a, $query)->json('spares'), 5);
    expect($keeps('?lead_weeks=100'))->toBeGreaterThan($keeps('?lead_weeks=1'));
    expect($keeps('?lead_weeks=100&level=0.99'))->toBeGreaterThanOrEqual($keeps('?lead_weeks=100&level=0.6'));
    $this->getJson("/api/customers/{$a->customer_id}/fleet?lead_weeks=-1")->assertStatus(422);
    (new Workbench($this))->as('owner');
    $this->getJson("/api/customers/{$a->customer_id}/fleet")->assertNotFound();
});

it('asks as many questions for ten packs as for two', function (): void {
    $a = ($this->pack)('Block A');
    ($this->read)($a, [3.8, 3.8, 3.8, 3.8]);
    ($this->pack)('Block B');
    $asked = function () use ($a): int {
        DB::enableQueryLog();
        DB::flushQueryLog();
        App\Read\OwnersFleet::of(Customer::query()->findOrFail($a->customer_id), null, null, null);

        return count(DB::getQueryLog());
    };
    $few = $asked();
    for ($i = 0; $i < 8; $i++) {
        ($this->pack)("Block $i");
    }
    expect($asked())->toBe($few);
});
