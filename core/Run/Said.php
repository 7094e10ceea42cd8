<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

/** What a person says to a run: present, pause, resume, end, plan (a fresh reading), clipped, ambient, leave. */
final readonly class Said
{
    public const ALL = ['present', 'pause', 'resume', 'end', 'plan', 'clipped', 'ambient', 'leave'];

    private function __construct(public float $t, public string $do, public ?float $v, public string $why) {}

    /** @param  float|null  $v  volts of a fresh reading, degC of the ambient */
    public static function of(float $t, string $do, ?float $v = null, string $why = ''): self
    {
        return new self($t, $do, $v, $why);
    }
}
