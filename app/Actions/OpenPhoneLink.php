<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Job;
use App\Models\Person;
use App\Models\PhoneLink;
use App\Security\AccessLimits;
use App\Security\Attempts;
use App\Security\Secrets;
use Illuminate\Support\Facades\DB;

/** A phone becomes the camera of one job by a link that it scans: no account, some hours, photos only; ended by whoever is at the bench. */
final class OpenPhoneLink
{
    /** @return array{PhoneLink, string} and its secret, said this once */
    public function open(Person $person, Job $job): array
    {
        return DB::transaction(function () use ($person, $job): array {
            Gatekeeper::open(LockJob::now($job));
            $secret = Secrets::link();
            $link = PhoneLink::query()->create([
                'workshop_id' => $job->workshop_id,
                'job_id' => $job->id,
                'opened_by' => $person->id,
                'hash' => Secrets::linkHash($secret),
                'opened_at' => now(),
                'expires_at' => now()->addHours(AccessLimits::PHONE_HOURS),
            ]);
            EventLog::add($person, $job, EventKind::PhoneLink, ['until' => $link->expires_at->toIso8601ZuluString()]);

            return [$link, $secret];
        });
    }

    /** Every link of the job, so that no phone adds any more. */
    public function end(Person $person, Job $job): void
    {
        DB::transaction(function () use ($person, $job): void {
            $ended = PhoneLink::query()
                ->where('job_id', $job->id)
                ->whereNull('ended_at')
                ->update(['ended_at' => now()]);
            if ($ended > 0) {
                EventLog::add($person, $job, EventKind::PhoneLink, ['until' => now()->toIso8601ZuluString()]);
            }
        });
    }

    /**
     * The link behind a secret.
     *
     * @throws Refused it is none, has ended, or too many were tried from this address
     */
    public static function of(string $secret, string $address): PhoneLink
    {
        $link = PhoneLink::query()->where('hash', Secrets::linkHash($secret))->with('job')->first();
        if ($link === null) {
            Attempts::take(Attempts::account("phone links from $address"), $address, AccessLimits::ADDRESS_FAILURES);
        }
        if ($link === null || !$link->isOpen()) {
            throw new Refused('no-link', 'This link is not good any more. Scan the code at the bench again.', 404);
        }
        if ($link->job?->status !== 'open') {
            throw new Refused('closed', 'This job is closed: it takes no more photos.');
        }

        return $link;
    }
}
