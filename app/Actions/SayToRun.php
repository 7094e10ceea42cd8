<?php

declare(strict_types=1);

namespace App\Actions;

use App\Instruments\RunFolder;
use App\Models\Person;
use App\Models\Run;
use Illuminate\Support\Facades\DB;

/** What a person says to a run goes into its folder, where the runner hears it; the gate is passed on the locked job. */
final class SayToRun
{
    public const ALL = ['present', 'pause', 'resume', 'clipped', 'end', 'plan', 'ambient', 'leave', 'typed'];

    /** Said often, and kept in the run's own journal alone. */
    private const NOT_LOGGED = ['present', 'typed', 'ambient'];

    /** Words that put current through the pack, or lead to it. */
    private const GATED = ['resume', 'clipped', 'plan'];

    /** @param  array<string, mixed>  $in  do, why, v, a, c */
    public function handle(Person $person, Run $run, array $in): void
    {
        DB::transaction(function () use ($person, $run, $in): void {
            if ($run->closed_at !== null || ($run->ended_at !== null && $in['do'] !== 'leave')) {
                throw new Refused('over', 'This run is over.');
            }
            $job = LockJob::now($run->job);
            if (in_array($in['do'], self::GATED, true)) {
                Gatekeeper::pass($job, 'recover-or-balance', $person);
            }
            if ($in['do'] === 'clipped') {
                $this->polarity($run);
            }
            if (!in_array($in['do'], self::NOT_LOGGED, true)) {
                EventLog::add(
                    $person,
                    $job,
                    EventKind::from('run-' . $in['do']),
                    ['why' => $in['why'] ?? ''] + (isset($in['v']) ? ['v' => $in['v']] : []),
                );
            }
            DB::afterCommit(fn() => RunFolder::of($run->id)->say($in + ['who' => $person->name]));
        });
    }

    /** The clip goes on only after the meter, or the hand, has read the polarity (handbook "Gates on work"). */
    private function polarity(Run $run): void
    {
        $state = RunFolder::of($run->id)->state();
        $v = $state['live']['v'] ?? ($state['v'] ?? null);
        if (!is_numeric($v) || (float) $v < \Heartwood\Core\Limits\RunLimits::OPEN_V) {
            throw new Refused(
                'polarity',
                is_numeric($v) && (float) $v < 0
                    ? sprintf('The meter reads %.2f V: the wrong way round. The supply\'s clip stays off.', $v)
                    : 'The meter does not read the group yet: its polarity is read before the supply\'s clip goes on.',
            );
        }
    }
}
