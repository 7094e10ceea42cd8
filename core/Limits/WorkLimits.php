<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** Numbers that the evidence of a work step is held against. Each stands here once and nowhere else. */
final class WorkLimits
{
    private const WORK = 'handbook "Work steps are closed by evidence"';

    #[Limit('A', 'handbook "Gates on work": what a clamp or meter may show and be taken for no current (assumed)')]
    public const NO_CURRENT_A = 0.05;

    #[Limit('s', self::WORK . ': times of a record are whole seconds; evidence may be so much older than the step that it follows')]
    public const CLOCK_S = 1.0;

    #[Limit('s', 'handbook "Recovery of a deep-discharged group": rest before it is read')]
    public const RESTED_S = 3600.0;
}
