<?php

declare(strict_types=1);

namespace Heartwood\Core\Schedule;

/** The way of a pack through the shop, in its order. */
enum Stage: string
{
    case Intake = 'intake';
    case Probe = 'probe';
    case Verdict = 'verdict';
    case Plan = 'plan';
    case Work = 'work';
    case Proof = 'proof';
    case Report = 'report';

    public function title(): string
    {
        return ucfirst($this->value);
    }

    /** What its screen is for, as whoever is new is told; null where the walk does not stop. */
    public function shows(): ?string
    {
        return match ($this) {
            self::Intake, self::Report => null,
            self::Probe
                => 'The screen says where the probes go. Type what the meter shows and press Enter; what reads oddly is asked about.',
            self::Verdict => 'What is wrong, where, how sure, and what speaks for and against. Touch a dotted word to see what it means. ' .
                'Below it: the one test that would tell most.',
            self::Plan
                => 'Each way out with its hours, its price and what the pack would give afterwards, so that the choice can be explained.',
            self::Work
                => 'The steps in order with the caution that belongs to each, and a door to the supply or the build room where it is done.',
            self::Proof
                => 'What the repaired pack must show before it leaves. What is missing stands first, and is never counted as passed.',
        };
    }
}
