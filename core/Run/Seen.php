<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Maths\Tiny;

/** What was seen last, and when: volts and amps, warmth, every group, all of it. Nothing here judges. */
final class Seen
{
    /** The last sample with volts and amps. */
    private ?Sample $whole = null;

    /** The last sample with volts, amps or not. */
    private ?Sample $volts = null;

    private ?float $voltsAt = null;

    private ?float $warmthAt = null;

    private ?float $groupsAt = null;

    private ?float $wholeAt = null;

    private ?float $v = null;

    private ?float $a = null;

    private ?float $c = null;

    private float $warmest;

    public function __construct(private readonly RunPlan $plan)
    {
        $this->warmest = $plan->ambientC;
    }

    /** From now on the waiting is counted: a start, a resume, a clip put on. */
    public function waitsFrom(float $t): void
    {
        $this->voltsAt = $this->warmthAt = $this->groupsAt = $this->wholeAt = $t;
    }

    public function keep(Sample $s): void
    {
        if ($s->hasVoltsAndAmps()) {
            $this->whole = $s;
            $this->voltsAt = $s->t;
        }
        if ($s->v !== null) {
            $this->volts = $s;
            $this->v = $s->v;
        }
        $this->a = $s->a ?? $this->a;
        if ($s->c !== null) {
            $this->c = $s->c;
            $this->warmest = max($this->warmest, $s->c);
            $this->warmthAt = $s->t;
        }
        $groups = $this->plan->kind !== 'bypass' || $s->hasGroups($this->plan->pack->series);
        $this->groupsAt = $groups ? $s->t : $this->groupsAt;
        $this->wholeAt = $groups && $s->hasVoltsAndAmps() && $s->c !== null ? $s->t : $this->wholeAt;
    }

    public function whole(): ?Sample
    {
        return $this->whole;
    }

    public function withVolts(): ?Sample
    {
        return $this->volts;
    }

    public function volts(): ?float
    {
        return $this->v;
    }

    public function amps(): ?float
    {
        return $this->a;
    }

    public function celsius(): ?float
    {
        return $this->c;
    }

    public function warmest(): float
    {
        return $this->warmest;
    }

    public function wholeAt(): ?float
    {
        return $this->wholeAt;
    }

    /**
     * What has not been read for too long, in words.
     *
     * @param  float  $mostS  seconds for volts and amps
     * @param  float  $warmthS  seconds for the temperature
     * @param  float  $groupsS  seconds for every group, where each must be seen
     */
    public function lacks(float $t, float $mostS, float $warmthS, float $groupsS): ?string
    {
        $over = fn(?float $at, float $most): bool => $at !== null && $t - $at > $most + Tiny::SUM;

        return match (true) {
            $over($this->voltsAt, $mostS) => 'volts or amps',
            $over($this->warmthAt, $warmthS) => 'the temperature',
            $this->plan->kind === 'bypass' && $over($this->groupsAt, $groupsS) => 'a group',
            default => null,
        };
    }
}
