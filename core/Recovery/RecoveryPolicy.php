<?php

declare(strict_types=1);

namespace Heartwood\Core\Recovery;

/** What a shop has chosen (handbook "Schools of thought"): A recovers slowly and proves, B replaces near the floor. */
final readonly class RecoveryPolicy
{
    /**
     * @param  'A'|'B'  $school
     * @param  float  $confirmEveryMin  minutes after which a person must say that they are there
     * @param  float|null  $closesAtS  seconds on the run's own clock at which the shop closes; null when it does not
     */
    public function __construct(public string $school = 'A', public float $confirmEveryMin = 30.0, public ?float $closesAtS = null) {}
}
