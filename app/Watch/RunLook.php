<?php

declare(strict_types=1);

namespace App\Watch;

use App\Instruments\RunFolder;
use App\Instruments\Runner;

/** A run as its screen needs it again and again, from the runner's own files: no database is asked. */
final class RunLook
{
    /** Seconds after which a state is old: nothing is said from it as if it were now. */
    private const OLD_S = 3.0;

    /**
     * @param  bool  $closed  whether the watch after it is over, as the record has it
     * @param  int  $from  the place in the journal that an earlier answer gave as `next`; 0 for the whole course
     * @param  float  $now  seconds of the epoch
     * @return array{state: array<string, mixed>|null, age_s: float|null, silent: bool, samples: list<array<string, mixed>>, next: int}
     */
    public static function of(RunFolder $folder, bool $closed, int $from, float $now): array
    {
        $state = $folder->state();
        // Whoever opens it is given the course so far and what came since; whoever has it, what is new.
        $curve = $from <= 0 ? $folder->curve() : ['upto' => $from, 'points' => []];
        [$entries, $next] = $folder->since($curve['upto']);
        $samples = [...$curve['points'], ...array_values(array_filter(array_map(Runner::point(...), $entries)))];
        $age = isset($state['wall']) ? max(0.0, $now - (float) $state['wall']) : null;
        // What was true three seconds ago is not said to be true now.
        $silent = !$closed && !$folder->isClosed() && $age !== null && $age > self::OLD_S;
        if ($silent) {
            $state['output'] = null;
            $state['live'] = ['v' => null, 'a' => null, 'c' => null];
        }

        return [
            'state' => $state === [] ? null : $state,
            'age_s' => $age === null ? null : round($age, 1),
            'silent' => $silent,
            'samples' => $samples,
            'next' => $next,
        ];
    }
}
