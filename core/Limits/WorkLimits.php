<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** Numbers that the evidence of a work step is held against. Each stands here once and nowhere else. */
final class WorkLimits
{
    private const WORK = 'handbook "Work steps are closed by evidence"';

    #[Limit('A', 'handbook "Gates on work": what a clamp or meter may show and be taken for no current (assumed)')]
    public const NO_CURRENT_A = 0.05;

    #[Limit('s', self::WORK . ': clocks of benches are set right beyond this; so much older than its step may evidence be (assumed)')]
    public const CLOCK_S = 2.0;

    #[Limit('1', self::WORK . ': milliohm over those after it was set, from which a joint has come back (assumed)')]
    public const JOINT_COMES_BACK = 1.5;

    #[Limit('mohm', self::WORK . ': under this more than it had a joint has not come back, whatever the ratio: leads and meter (assumed)')]
    public const JOINT_NOISE_MOHM = 0.05;

    #[Limit('1', self::WORK . ': times that a joint comes back before it is set with other metal or compound only')]
    public const JOINT_OTHER_CONTACT = 2;

    #[Limit('h', self::WORK . ': within which a hand-back is taken back (assumed)')]
    public const TAKE_BACK_H = 24.0;

    #[Limit('s', 'handbook "Recovery of a deep-discharged group": rest before it is read')]
    public const RESTED_S = 3600.0;

    #[Limit('1', self::WORK . ': times from which the shop\'s own median stands in the place of the handbook\'s minutes', step: 0.2)]
    public const OWN_FROM = 5;
}
