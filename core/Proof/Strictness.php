<?php

declare(strict_types=1);

namespace Heartwood\Core\Proof;

use Heartwood\Core\Limits\ProofLimits;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Shop\Settings;

/** Limits of the proof that a shop has tightened (handbook "Acceptance"); never more lenient than the handbook's. */
final readonly class Strictness
{
    private const MILLI = 1000;

    private const PERCENT = 100;

    public float $spreadV;

    public float $capacityShare;

    public float $warmerK;

    public float $leakAMonth;

    public function __construct(
        float $spreadV = VerdictLimits::GOOD_V,
        float $capacityShare = ProofLimits::CAPACITY_SHARE,
        float $warmerK = ProofLimits::WARMER_K,
        float $leakAMonth = VerdictLimits::LEAK_A_MONTH,
    ) {
        $this->spreadV = min($spreadV, VerdictLimits::GOOD_V);
        $this->capacityShare = max($capacityShare, ProofLimits::CAPACITY_SHARE);
        $this->warmerK = min($warmerK, ProofLimits::WARMER_K);
        $this->leakAMonth = min($leakAMonth, VerdictLimits::LEAK_A_MONTH);
    }

    public static function of(Settings $s): self
    {
        return new self(
            (float) $s->float('proof_spread_mv') / self::MILLI,
            (float) $s->float('proof_capacity_percent') / self::PERCENT,
            (float) $s->float('proof_warmer_k'),
            (float) $s->float('proof_leak_percent') / self::PERCENT,
        );
    }
}
