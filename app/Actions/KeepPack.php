<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Customer;
use App\Models\Decision;
use App\Models\Job;
use App\Models\Pack;
use App\Models\PackLink;
use App\Models\PackOwner;
use App\Models\Person;
use App\Models\WorkStep;
use App\Read\PackWatch;
use App\Read\Passport;
use App\Security\Secrets;
use Carbon\CarbonImmutable;
use Heartwood\Core\Repair\RepairAction;
use Illuminate\Support\Facades\DB;

/** The identity of a pack over all its jobs: known by its serial where it has one, its owner as the last job said, its watch. */
final class KeepPack
{
    /** The pack of a job that comes in or whose serial was said: the one with its serial, else one of its own. */
    public static function of(Job $job): Pack
    {
        $serial = self::serial($job);
        $locked = fn(mixed $id): ?Pack => $id === null ? null : Pack::query()->lockForUpdate()->findOrFail((int) $id);
        $mine = $locked($job->pack_id);
        $pack = match (true) {
            $serial === '' || $mine?->serial === $serial => $mine,
            default => $locked(Pack::query()->where('workshop_id', $job->workshop_id)->where('serial', $serial)->value('id')),
        };
        if ($pack === null && $mine !== null && Job::query()->where('pack_id', $mine->id)->where('id', '!=', $job->id)->doesntExist()) {
            $pack = $mine;
        }
        $pack ??= self::open($job);
        $pack->fill(['name' => $job->name, 'spec' => $job->pack] + ($serial === '' ? [] : ['serial' => $serial]))->save();
        self::owned($pack, $job->customer_id);
        if ($job->status === 'open' && $pack->watch_job_id !== null && $pack->watch_job_id !== $job->id) {
            // It came back: it is read on the bench now, and nobody is asked for it.
            self::end($pack->id);
        }
        if ($job->pack_id !== $pack->id) {
            $job->update(['pack_id' => $pack->id]);
        }

        return $pack;
    }

    /** The serial of a job; where the code on our label was typed in its place, what that pack has. */
    private static function serial(Job $job): string
    {
        $serial = trim((string) $job->serial);
        $coded = Pack::coded($job->workshop_id, $serial);
        if ($coded === null || Pack::query()->where('workshop_id', $job->workshop_id)->where('serial', $serial)->exists()) {
            return $serial;
        }
        // A pack without a serial is known by its code from now on.
        $known = $coded->serial === '' ? Passport::code($coded->code) : $coded->serial;
        $coded->update(['serial' => $known]);
        $job->serial = $known;
        $job->save();

        return $known;
    }

    /** Whose it is from now on. */
    public static function owned(Pack $pack, int $customer): void
    {
        if ($pack->customer_id === $customer) {
            return;
        }
        PackOwner::query()
            ->where('pack_id', $pack->id)
            ->whereNull('to_at')
            ->update(['to_at' => now()]);
        PackOwner::query()->create(['pack_id' => $pack->id, 'customer_id' => $customer, 'from_at' => now()]);
        $pack->update(['customer_id' => $customer]);
        // Whoever owned it before sees nothing of it any more.
        PackLink::query()
            ->where('pack_id', $pack->id)
            ->whereNull('ended_at')
            ->update(['ended_at' => now()]);
    }

    /** Another owner; whoever held a link of the one before sees nothing of it any more. */
    public function change(Person $person, Pack $pack, string $name, ?string $version): Pack
    {
        return DB::transaction(function () use ($person, $pack, $name, $version): Pack {
            Version::lock($pack, $version, ['customer']);
            $from = $pack->customer_id;
            $to = Customer::named($pack->workshop_id, $name)->id;
            if ($from !== $to) {
                self::owned($pack, $to);
                EventLog::add($person, null, EventKind::PackOwner, ['pack' => $pack->id, 'from' => $from, 'to' => $to]);
            }
            $pack->version++;
            $pack->save();

            return $pack;
        });
    }

    /** It went back: from here on it is watched. */
    public static function watch(Job $job): void
    {
        $pack = self::of($job);
        $ended = self::workEnded($job);
        $every = self::topUps($job);
        $pack->update([
            'watch_job_id' => $job->id,
            'work_ended_at' => $ended,
            'topup' => $every === [] ? null : $every,
            'topup_every_d' => array_reduce($every, fn(?int $least, array $t): int => min($least ?? $t['every_days'], $t['every_days'])),
        ]);
        self::refresh($pack);
    }

    /** It came in again, was scrapped, or its hand-back was a slip: nothing is due. */
    public static function unwatch(Job $job): void
    {
        self::end((int) $job->pack_id);
    }

    private static function end(int $pack): void
    {
        Pack::query()
            ->whereKey($pack)
            ->update([
                'watch_job_id' => null,
                'work_ended_at' => null,
                'next_at' => null,
                'state' => '',
                'stopped_at' => null,
                'glance' => null,
                'topup' => null,
                'topup_every_d' => null,
                'topup_at' => null,
                'read_at' => null,
            ]);
    }

    /** @return list<array<string, mixed>> of the groups that stay in service though they leak */
    private static function topUps(Job $job): array
    {
        $decision = Decision::query()->where('job_id', $job->id)->latest('id')->first();
        $actions = array_column($decision->option['parts'] ?? [['action' => $decision?->action]], 'action');

        return in_array(RepairAction::KeepWithTopup->value, $actions, true)
            ? array_values((array) ($decision->option['topups'] ?? []))
            : [];
    }

    /** Where it stands by all that was read, and when it is read next. */
    public static function refresh(Pack $pack): void
    {
        $drift = PackWatch::drift($pack);
        $stop = $drift === null ? null : PackWatch::stoppedAt($pack);
        $topUp = $pack->topup_every_d === null ? null : PackWatch::fullAt($pack)->addDays($pack->topup_every_d);
        $read = $drift === null ? null : CarbonImmutable::parse($drift->nextAt);
        $pack->update([
            'state' => $drift === null ? '' : $drift->state->value,
            'next_at' => $stop ?? ($topUp !== null && $read !== null ? $read->min($topUp) : $read),
            'read_at' => $read,
            'topup_at' => $topUp,
            'stopped_at' => $stop,
            'glance' => PackWatch::glance($pack),
        ]);
    }

    /** When the last step of the work was done; where none was, when it went back. */
    private static function workEnded(Job $job): CarbonImmutable
    {
        $decision = Decision::query()->where('job_id', $job->id)->latest('id')->value('id');
        $last = $decision === null ? null : WorkStep::query()->where('decision_id', $decision)->where('skipped', '')->max('done_at');

        return $last === null ? $job->closed_at ?? CarbonImmutable::now() : CarbonImmutable::parse($last);
    }

    /** A code that no other pack of the workshop has. */
    public static function freeCode(int $workshop): string
    {
        do {
            $code = Secrets::packCode();
        } while (Pack::query()->where('workshop_id', $workshop)->where('code', $code)->exists());

        return $code;
    }

    private static function open(Job $job): Pack
    {
        $pack = Pack::query()->create([
            'workshop_id' => $job->workshop_id,
            'code' => self::freeCode($job->workshop_id),
            'serial' => trim((string) $job->serial),
            'customer_id' => $job->customer_id,
            'name' => $job->name,
            'spec' => $job->pack,
        ]);
        PackOwner::query()->create(['pack_id' => $pack->id, 'customer_id' => $job->customer_id, 'from_at' => now()]);

        return $pack;
    }
}
