<?php

declare(strict_types=1);

namespace Heartwood\Core\Safety;

/** What a safety state lets whom do (handbook "Safety gates"). Facts are always stored; these are the actions. */
final class Gate
{
    public const ACTIONS = ['open', 'load-or-charge', 'recover-or-balance', 'sign-off', 'removal'];

    /**
     * @param  string  $action  one of ACTIONS
     * @param  bool  $senior  whether the person may decide as a senior
     * @return string|null why not, with the way out; null when allowed
     */
    public static function refuses(SafetyState $state, string $action, bool $senior): ?string
    {
        if (!in_array($action, self::ACTIONS, true)) {
            throw new \InvalidArgumentException("unknown gated action '$action'");
        }

        return match ($state) {
            SafetyState::Clear => null,
            SafetyState::Hold => match (true) {
                $action === 'open' && $senior, $action === 'removal' && $senior => null,
                $action === 'open' => 'The pack is on hold: only a senior may open it.',
                default => 'The pack is on hold: no load, charge, recovery, balancing or sign-off until a senior releases it.',
            },
            SafetyState::Quarantine => match (true) {
                $action === 'removal' && $senior => null,
                default => 'The pack is in quarantine: no opening indoors, no charge, no discharge. It leaves quarantine as ' .
                    'scrapped, by removal of the cell, or as entered by mistake.',
            },
        };
    }
}
