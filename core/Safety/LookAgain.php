<?php

declare(strict_types=1);

namespace Heartwood\Core\Safety;

use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Record\Fields;

/**
 * What eyes, hand and nose say of a pack is as old as the moment they said it: asked when it comes in, again when the case is open, before
 * the first probe, and after a run that volts or warmth ended (handbook "Consent and intake"). No current while it is owed.
 */
final readonly class LookAgain
{
    /**
     * @param  'never'|'open'|'stopped'  $moment  which look is owed
     * @param  bool  $secondPerson  whether a second person must be there, by name
     */
    private function __construct(public string $moment, public string $text, public bool $secondPerson) {}

    /**
     * @param  float|null  $openS  unix seconds of the latest look that saw the pack open
     * @param  float|null  $alarmS  of the latest end of a run by volts or warmth
     */
    public static function due(Fields $inspection, SafetyState $state, float $fullVolts, ?float $openS, ?float $alarmS): ?self
    {
        $high = $fullVolts > VerdictLimits::HIGH_VOLTAGE_V;

        return match (true) {
            // Nobody opens it, and nothing is asked of who stays away.
            $state === SafetyState::Quarantine => null,
            $alarmS !== null && $alarmS > ($openS ?? 0.0) => new self(
                'stopped',
                'A run was ended by volts or warmth. Look again before anything else.',
                $high,
            ),
            $openS === null && self::unseen($inspection, true) !== [] => new self(
                'never',
                'Not all of it was looked at. Before the first probe:',
                $high,
            ),
            $openS === null => new self('open', 'The case is open now. Before the first probe, look again:', $high),
            default => null,
        };
    }

    /**
     * What nobody answered, yes or no.
     *
     * @param  bool  $outside  only what whoever stands before the pack sees, feels and smells
     * @return list<string> keys of the inspection
     */
    public static function unseen(Fields $inspection, bool $outside = false): array
    {
        $looks = array_filter(
            Look::cases(),
            fn(Look $l): bool => (!$outside || $l->fromOutside()) && $inspection->bool($l->value) === null,
        );

        return array_values(array_map(fn(Look $l): string => $l->value, $looks));
    }

    /** Whether answers are a whole look: everything that can be seen from outside has a yes or no, or one of them is a yes. */
    public static function isWhole(Fields $answers): bool
    {
        foreach (Look::cases() as $l) {
            if ($l->means() !== 'note' && $answers->bool($l->value) === true) {
                return true;
            }
        }

        return self::unseen($answers, true) === [];
    }
}
