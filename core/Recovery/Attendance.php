<?php

declare(strict_types=1);

namespace Heartwood\Core\Recovery;

/** Somebody must be there (handbook "Gates on work"): said at intervals, counted by the runner and by nobody's screen. */
final class Attendance
{
    private const GRACE_S = 120.0;

    private float $confirmedAt;

    public function __construct(private readonly RecoveryPolicy $policy, float $t)
    {
        $this->confirmedAt = $t;
    }

    public function confirm(float $t): void
    {
        $this->confirmedAt = max($this->confirmedAt, $t);
    }

    /** Seconds until a person is asked for; negative while overdue. */
    public function dueIn(float $t): float
    {
        return $this->confirmedAt + 60 * $this->policy->confirmEveryMin - $t;
    }

    /** @return string|null why the output must be off; null while somebody is there and the shop is open */
    public function refuses(float $t): ?string
    {
        if ($this->policy->closesAtS !== null && $t >= $this->policy->closesAtS) {
            return 'the shop closes: nothing is charged unattended';
        }
        if ($this->dueIn($t) < -self::GRACE_S) {
            return 'nobody has said that they are here';
        }

        return null;
    }

    /** @return string|null why a run of this length may not start now */
    public function refusesStart(float $t, float $hours): ?string
    {
        return $this->policy->closesAtS !== null && $t + 3600 * $hours > $this->policy->closesAtS
            ? sprintf('It takes about %.1f h and the shop closes in %.1f h: recovery is never left across closing time.', $hours, max(0.0, $this->policy->closesAtS - $t) / 3600)
            : null;
    }
}
