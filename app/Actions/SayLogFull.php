<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Cell;
use App\Models\Job;
use App\Models\Person;
use App\Models\TestLog;
use Heartwood\Core\Log\CapacityTest;
use Illuminate\Support\Facades\DB;

/** Somebody's word that a discharge began full, where its charge is not in the log: kept with who gave it, and the log judged by it. */
final class SayLogFull
{
    public function handle(Person $person, TestLog $log): TestLog
    {
        return DB::transaction(function () use ($person, $log): TestLog {
            $log = TestLog::query()->lockForUpdate()->findOrFail($log->id);
            $capacity = $log->figures['capacity'] ?? null;
            if (!is_array($capacity) || !CapacityTest::asksFull($capacity)) {
                throw new Refused('not-asked', 'Of this log nobody asks whether it began full: a charge is in it, or it was said.');
            }
            $job = Job::query()
                ->whereKey($log->job_id ?? 0)
                ->first();
            if ($job !== null) {
                Gatekeeper::open($job);
            }
            $capacity = CapacityTest::said($capacity) + [
                'said_full' => ['by' => $person->name, 'at' => now()->toIso8601ZuluString()],
            ];
            $log->update(['figures' => ['capacity' => $capacity] + $log->figures]);
            (new PutCapacity())->handle($person, $log);
            if ($log->cell_id !== null) {
                $cell = Cell::query()->lockForUpdate()->findOrFail($log->cell_id);
                $changes = $capacity['counts'] === true ? ['capacity_ah' => $capacity['ah']] : [];
                $cell->measured($changes);
                EventLog::ofCell($cell, $person, 'said-full', ['log' => $log->id] + $changes);
            }

            return $log;
        });
    }
}
