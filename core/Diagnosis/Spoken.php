<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

/** Figures in words: said beside the figure, never instead of it. Read by the screens from `contract/words.json`. */
final class Spoken
{
    /**
     * How much a line of evidence weighs, from so many decibans either way: ten are odds of ten to one (I. J. Good, Probability and
     * the Weighing of Evidence).
     */
    public const WEIGHTS = [
        ['from' => 20.0, 'word' => 'decisively'],
        ['from' => 10.0, 'word' => 'strongly'],
        ['from' => 5.0, 'word' => 'clearly'],
        ['from' => 2.0, 'word' => 'somewhat'],
        ['from' => 0.0, 'word' => 'hardly'],
    ];

    /** How sure, from so much probability. */
    public const SURENESS = [
        ['from' => 0.95, 'word' => 'as good as certain'],
        ['from' => 0.8, 'word' => 'very likely'],
        ['from' => 0.6, 'word' => 'likely'],
        ['from' => 0.4, 'word' => 'an even bet'],
        ['from' => 0.0, 'word' => 'possible'],
    ];
}
