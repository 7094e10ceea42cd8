<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

/** One line of a ledger: words, weight in decibans for (+) or against (-), and where its number comes from. */
final readonly class Evidence
{
    /** @param  'measured'|'derived'|'assumed'|'predicted'|'reported'  $basis */
    public function __construct(public string $text, public float $decibans, public string $basis = 'measured') {}

    /** @return array{text: string, decibans: float, basis: string} */
    public function toArray(): array
    {
        return ['text' => $this->text, 'decibans' => round(max(-60.0, min(60.0, $this->decibans)), 1), 'basis' => $this->basis];
    }
}
