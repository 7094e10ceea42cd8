<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

/** A rule that a sample breaks, and what to say of it. */
final readonly class Broken
{
    public function __construct(public Why $why, public string $text) {}

    /** @param  list<self|null>  $all */
    public static function first(array $all): ?self
    {
        $out = null;
        foreach ($all as $b) {
            if ($b !== null && ($out === null || $b->why->rank() < $out->why->rank())) {
                $out = $b;
            }
        }

        return $out;
    }
}
