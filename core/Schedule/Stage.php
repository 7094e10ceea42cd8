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
}
