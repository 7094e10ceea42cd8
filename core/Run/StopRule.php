<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

/** One reason to end a run. It sees every sample, in order, and may remember what it needs. */
interface StopRule
{
    public function check(Moment $m): ?Broken;
}
