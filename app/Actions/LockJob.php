<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Job;
use Illuminate\Support\Facades\DB;

/** The job as it is now, held until the transaction ends: whoever passes a gate passes it on this state and no other. */
final class LockJob
{
    public static function now(Job $job): Job
    {
        if (DB::transactionLevel() === 0) {
            throw new \LogicException('a job is locked inside a transaction');
        }
        $fresh = Job::query()->lockForUpdate()->findOrFail($job->id);
        $job->setRawAttributes($fresh->getAttributes(), true);

        return $job;
    }
}
