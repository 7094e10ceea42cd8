<?php

declare(strict_types=1);

namespace Heartwood\Core\Schedule;

use Heartwood\Core\Safety\SafetyState;

/** Where a job stands on the bench and the one thing that it wants next. */
final readonly class NextThing
{
    /** @param  'hands'|'waiting'|'held'|'done'  $lane */
    private function __construct(public string $lane, public string $text, public bool $due = false) {}

    /**
     * @param  bool  $waited  whether it waited for something that is due now and nobody has touched it since
     * @param  string  $guided  what a guided run under way wants next; empty: none is
     * @param  bool|null  $rests  whether that waits for its time; null: it has waited for nothing
     * @param  string  $again  what was done and is due to be looked at again, also of a pack that went back; empty: nothing
     */
    public static function of(
        string $stage,
        string $status,
        SafetyState $safety,
        bool $waits,
        string $waitsFor,
        bool $waited = false,
        string $again = '',
        string $guided = '',
        ?bool $rests = null,
    ): self {
        if ($again !== '' && $status !== 'scrapped' && ($status === 'returned' || $safety === SafetyState::Clear)) {
            return new self('hands', $again, true);
        }
        if ($status !== 'open') {
            return new self('done', $status === 'returned' ? 'Returned to the customer' : 'Scrapped');
        }
        if ($safety === SafetyState::Quarantine) {
            return new self('held', 'In quarantine: outside or in the fire-safe box');
        }
        if ($safety === SafetyState::Hold) {
            return new self('held', 'On hold: a senior decides');
        }
        // Its own time is known to the minute: a longer wait that somebody set does not hide it.
        if ($guided !== '') {
            return $rests === true ? new self('waiting', $guided) : new self('hands', $guided, $rests === false);
        }
        if ($waits) {
            return new self('waiting', $waitsFor === '' ? 'Waiting' : $waitsFor);
        }

        if ($waited && $waitsFor !== '') {
            return new self('hands', $waitsFor, true);
        }

        return new self(
            'hands',
            match ($stage) {
                'intake' => 'Finish the intake',
                'probe' => 'Probe the groups',
                'verdict' => 'Read the verdict',
                'plan' => 'Choose what to do',
                'work' => 'Carry on with the work',
                'proof' => 'Prove the pack',
                default => 'Hand it back',
            },
        );
    }
}
