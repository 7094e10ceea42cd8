<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\EventKind;
use App\Models\Event;
use App\Models\Job;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Run\Why;
use Heartwood\Core\Safety\LookAgain;

/** Which look at a pack is owed now, by what its log says of looks and of runs that volts or warmth ended. */
final class Looks
{
    public static function due(Job $job): ?LookAgain
    {
        if ($job->status !== 'open') {
            return null;
        }
        $open = $alarm = null;
        $log = Event::query()
            ->where('job_id', $job->id)
            ->whereIn('kind', [EventKind::Triage->value, EventKind::RunEnded->value])
            ->orderBy('id')
            ->get(['kind', 'data', 'at']);
        foreach ($log as $e) {
            if ($e->kind === EventKind::Triage->value && ($e->data['moment'] ?? null) === 'open') {
                $open = (float) $e->at->getPreciseTimestamp(6) / 1e6;
            } elseif (Why::tryFrom((string) ($e->data['outcome'] ?? ''))?->wantsTriage() === true) {
                $alarm = (float) $e->at->getPreciseTimestamp(6) / 1e6;
            }
        }

        return LookAgain::due(
            new Fields($job->inspection ?? []),
            $job->safety(),
            PackSpec::from(new Fields($job->pack))->fullVolts(),
            $open,
            $alarm,
        );
    }
}
