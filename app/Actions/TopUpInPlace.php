<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Customer;
use App\Models\Job;
use App\Models\Pack;
use App\Models\Person;
use App\Models\Topping;
use App\Read\OwnersFleet;
use Heartwood\Core\Fleet\InPlace;
use Heartwood\Core\Fleet\JoinBack;
use Illuminate\Support\Facades\DB;

/**
 * A group topped up where its pack stands: begun by what was measured at the clips, ended by volts and amps, and the pack back beside its
 * siblings by the join rule. Whether it helped, the next reading of all groups says.
 */
final class TopUpInPlace
{
    /**
     * @param  array{pack: int, group: int, supply_a?: float|null, group_v: float, pack_a: float, ambient_c: float, second?: string}  $in
     *
     * @throws Refused what was measured, or what is known of the pack, forbids it
     */
    public function begin(Person $person, Customer $customer, array $in): Topping
    {
        return DB::transaction(function () use ($person, $customer, $in): Topping {
            $pack = self::lock($customer, $in['pack']);
            self::mayBegin($pack);
            [$sibling, $fleet] = OwnersFleet::sibling($customer, $pack);
            $group = $in['group'];
            $volts = $sibling?->volts[$group - 1] ?? null;
            $planned = array_filter($fleet?->topping() ?? [], fn(array $t): bool => $t['pack'] === $sibling && $t['group'] === $group);
            if ($sibling === null || $volts === null || $planned === []) {
                throw new Refused(
                    'not-low',
                    "Group $group of {$pack->name} is not among those that are topped up: read the wall again.",
                    422,
                    ['group' => 'Not among those that stand low.'],
                );
            }
            $place = InPlace::of($sibling, $group, $in['supply_a'] ?? null);
            $second = trim($in['second'] ?? '');
            $problems = $place->begin($volts, $in['group_v'], $in['pack_a'], $in['ambient_c'], $second);
            if ($problems !== []) {
                throw new Refused('not-safe', implode(' ', $problems), 422, $problems);
            }
            $plan = current($planned);
            $topping = Topping::query()->create([
                'workshop_id' => $pack->workshop_id,
                'pack_id' => $pack->id,
                'group_no' => $group,
                'plan' => [
                    'ah' => $plan['ah'],
                    'hours' => $plan['hours'],
                    'full_v' => $place->fullV,
                    'supply_a' => $place->supplyA,
                    'stop_from_a' => $place->stopFromA,
                    'stop_to_a' => $place->stopToA,
                ],
                'begun' => array_diff_key($in, ['pack' => 1, 'group' => 1]) + ['own_off_mv' => $sibling->offMv($group)],
                'begun_by' => $person->id,
                'begun_at' => now(),
            ]);
            EventLog::add($person, null, EventKind::ToppingBegun, ['pack' => $pack->id, 'group' => $group, 'by' => $person->name]);

            return $topping;
        });
    }

    public function end(Person $person, Topping $topping, float $groupV, float $amps): Topping
    {
        return DB::transaction(function () use ($person, $topping, $groupV, $amps): Topping {
            $topping = Topping::query()->lockForUpdate()->findOrFail($topping->id);
            if ($topping->ended_at !== null) {
                throw new Refused('ended', 'It has ended already.');
            }
            $pack = $topping->pack;
            // By the plan that it was begun with: what its groups hold may have been told anew since.
            $from = $topping->plan['stop_from_a'];
            $said = InPlace::ended((float) $topping->plan['full_v'], $from === null ? null : (float) $from, $groupV, $amps);
            $topping->update([
                'ended' => ['group_v' => $groupV, 'amps' => $amps] + $said,
                'ended_by' => $person->id,
                'ended_at' => now(),
            ]);
            EventLog::add($person, null, EventKind::ToppingEnded, [
                'pack' => $pack->id,
                'group' => $topping->group_no,
                'text' => $said['text'],
            ]);

            return $topping;
        });
    }

    /** The pack beside its siblings again: what the join rule says of their volts now. */
    public function join(Person $person, Topping $topping, float $packV, float $siblingsV, int $siblings): Topping
    {
        return DB::transaction(function () use ($person, $topping, $packV, $siblingsV, $siblings): Topping {
            $topping = Topping::query()->lockForUpdate()->findOrFail($topping->id);
            if ($topping->ended_at === null) {
                throw new Refused('still-on', 'The supply is still on its group: end that first.');
            }
            $rule = JoinBack::check($topping->pack->packSpec(), $siblings, $packV, $siblingsV)->toArray();
            $topping->update([
                'joined' => ['pack_v' => $packV, 'siblings_v' => $siblingsV, 'siblings' => $siblings] + $rule,
                'joined_at' => now(),
            ]);
            EventLog::add($person, null, EventKind::ToppingJoined, [
                'pack' => $topping->pack_id,
                'group' => $topping->group_no,
                'way' => $rule['way'],
            ]);

            return $topping;
        });
    }

    private static function lock(Customer $customer, int $id): Pack
    {
        /** @var Pack|null $pack */
        $pack = Pack::query()
            ->where('workshop_id', $customer->workshop_id)
            ->where('customer_id', $customer->id)
            ->lockForUpdate()
            ->find($id);
        if ($pack === null) {
            throw new Refused('other-pack', 'This is no pack of theirs.', 422, ['pack' => 'No pack of theirs.']);
        }

        return $pack;
    }

    /** @throws Refused what is known of the pack forbids any charge where it stands */
    private static function mayBegin(Pack $pack): void
    {
        $last = Job::query()->where('pack_id', $pack->id)->latest('id')->first();
        $why = match (true) {
            $pack->stopped_at !== null => "{$pack->name} is not used any more, as its owner was told: it comes to the bench.",
            $last !== null && $last->status === 'open' => "{$pack->name} is on the bench as job {$last->number}: it is worked on there.",
            $last !== null && $last->status !== 'returned' => "{$pack->name} was scrapped in job {$last->number}: it is not charged.",
            Topping::query()->where('pack_id', $pack->id)->whereNull('ended_at')->exists()
                => "A supply is on a group of {$pack->name} already: one at a time, the others rest meanwhile.",
            default => null,
        };
        if ($why !== null) {
            throw new Refused('not-here', $why, 409);
        }
    }
}
