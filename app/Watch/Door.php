<?php

declare(strict_types=1);

namespace App\Watch;

use App\Instruments\Desk;
use App\Instruments\InstrumentFault;
use App\Instruments\RunFolder;
use Heartwood\Core\Record\Fields;

/**
 * The two questions that screens ask all the while: what a run does, what a meter shows. They are answered by ticket, from what
 * the runner and the desk have written, without framework and database: some twenty of these cost what one other question does.
 *
 * @phpstan-type Answered array{0: int, 1: array<string, mixed>}
 */
final class Door
{
    /** Where a browser carries its ticket: no other site's page can send it. */
    public const HEADER = 'X-Heartwood-Watch';

    /** Groups of the longest pack that is read. */
    private const GROUPS = 200;

    /**
     * @param  string  $what  `run` or `meter`
     * @param  array<array-key, mixed>  $in  of the query for a run, of the body for a meter
     * @param  float  $now  seconds of the epoch
     * @return Answered status, and what is said as JSON
     */
    public static function answer(string $what, string $ticket, array $in, float $now): array
    {
        if ($what !== 'run' && $what !== 'meter') {
            return self::no(404, 'not-found', 'There is nothing at this address.');
        }
        $leave = Ticket::read($ticket, $what, $now);
        if ($leave === null) {
            return self::no(410, 'watch-over', 'This leave to look is over: ask for it again.');
        }

        return $what === 'run' ? self::run($leave, $in, $now) : self::meter($leave, Fields::of($in));
    }

    /**
     * @param  array<string, mixed>  $leave
     * @param  array<array-key, mixed>  $in
     * @return Answered
     */
    private static function run(array $leave, array $in, float $now): array
    {
        $from = filter_var($in['from'] ?? 0, FILTER_VALIDATE_INT, ['options' => ['min_range' => 0]]);
        if ($from === false) {
            return self::no(422, 'invalid', 'From where is a whole number of bytes.', ['from' => 'The `next` of the last answer, or 0.']);
        }
        $folder = RunFolder::of((string) $leave['run']);
        $look = RunLook::of($folder, (bool) $leave['closed'], $from, $now);
        $over = ($look['state']['over'] ?? false) === true;
        // Whoever may act on it and looks at it counts as watching.
        if ((bool) $leave['watches'] && !$over && is_dir($folder->path)) {
            $folder->touch();
        }
        // What the record says of it is about to change.
        $again = ($over && !(bool) $leave['over']) || ($folder->isClosed() && !(bool) $leave['closed']);

        return [200, $look + ['again' => $again]];
    }

    /**
     * @param  array<string, mixed>  $leave
     * @return Answered
     */
    private static function meter(array $leave, Fields $in): array
    {
        $wrong = [];
        foreach (['since', 'left_v', 'before', 'typical'] as $k) {
            if ($in->has($k) && $in->float($k) === null) {
                $wrong[$k] = 'A number, or nothing.';
            }
        }
        if ($in->bool('has_left') === null) {
            $wrong['has_left'] = 'Yes or no: whether the probe has been off since the last was taken.';
        }
        $groups = $in->int('groups');
        if ($groups === null || $groups < 1 || $groups > self::GROUPS) {
            $wrong['groups'] = 'Groups between the probes: a whole number from 1 to ' . self::GROUPS . '.';
        }
        if ($wrong !== []) {
            return self::no(422, 'invalid', (string) reset($wrong), $wrong);
        }
        $at = $leave['desk'];
        // A run has taken it since: it is let go of at once.
        if (Desk::takenAt((string) $at['key']) >= (float) $leave['at']) {
            return self::no(409, 'in-use', "{$leave['name']} is in use.");
        }
        try {
            return [200, MeterLook::of(Desk::volts($at), $in, (float) $leave['full_v'])];
        } catch (InstrumentFault $e) {
            return self::no(503, 'silent', "{$leave['name']}: " . $e->getMessage());
        }
    }

    /**
     * @param  array<string, string>  $fields
     * @return Answered
     */
    private static function no(int $status, string $code, string $message, array $fields = []): array
    {
        return [$status, ['code' => $code, 'message' => $message, 'fields' => (object) $fields]];
    }
}
