<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Job;
use App\Models\Person;
use App\Policies\Rights;
use App\Read\Looks;
use Heartwood\Core\Safety\Gate;

/** Stops an action that the job's safety state forbids to this person. The rule itself is core's. */
final class Gatekeeper
{
    public static function pass(Job $job, ?string $action, Person $person): void
    {
        $why = $action === null ? null : Gate::refuses($job->safety(), $action, Rights::isSenior($person));
        if ($why !== null) {
            throw new Refused('gate', $why);
        }
    }

    /** No current through a pack while a look at it is owed. */
    public static function looked(Job $job): void
    {
        $due = Looks::due($job);
        if ($due !== null) {
            throw new Refused('look-first', $due->text . ' Nothing is started until somebody has.');
        }
    }

    public static function open(Job $job): void
    {
        if ($job->status !== 'open') {
            throw new Refused('closed', 'This job is closed: open a new one for the pack.');
        }
    }

    /** @return array<string, string|null> why each gated action is refused to this person now, null when it is allowed */
    public static function overview(Job $job, Person $person): array
    {
        $out = [];
        foreach (Gate::ACTIONS as $action) {
            $out[$action] = Gate::refuses($job->safety(), $action, Rights::isSenior($person));
        }

        return $out;
    }
}
