<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Step;
use Heartwood\Core\Maths\Tiny;

/**
 * Whether the clips sit where the plan says, before the output goes on: two rounds that agree, then one more with the
 * set-points read back. What fails for certain is another rule's or a wrong group here; what is only lacking is waited
 * for, and named when the time is over.
 */
final class Prover
{
    /** Groups that are named when the clips look like one of several. */
    private const NAMED = 3;

    /** Volts that two groups must differ by to be told apart. */
    private const SAME_V = 0.001;

    private float $low;

    private float $high;

    /** Where the group itself is expected, for the question which group is nearest. */
    private float $own;

    /** @var array{t: float, v: float}|null the first round */
    private ?array $round = null;

    private bool $agreed = false;

    private ?float $askedAt = null;

    private ?Broken $lacks = null;

    /** @var list<array{what: string, ok: bool|null, text: string}> */
    private array $seen = [];

    private bool $passed = false;

    private function __construct(private readonly RunPlan $plan, private float $since, float $low, float $high, float $own)
    {
        [$this->low, $this->high, $this->own] = [$low, $high, $own];
    }

    public static function ofPlan(RunPlan $plan, float $t): self
    {
        $band = self::band($plan);

        return new self($plan, $t, $plan->planV - $band, $plan->planV + $band, $plan->planV);
    }

    /** After a pause: anywhere from the plan to where it was last driven to. */
    public static function resumed(RunPlan $plan, float $t, ?float $lastV): self
    {
        $band = self::band($plan);
        $high = max($plan->planV, $lastV ?? $plan->planV) + $plan->n() * RunLimits::BAND_V;

        return $lastV === null
            ? self::ofPlan($plan, $t)
            : new self($plan, $t, min($plan->planV, $lastV) - $band, $high, min(max($plan->planV, $lastV), $high));
    }

    /** After a jump: where it stood before, less what relaxes when the current stops. */
    public static function jumped(RunPlan $plan, float $t, float $lastV, float $amps): self
    {
        $n = $plan->n();
        $relaxes = RunLimits::RELAXES * abs($amps) * $plan->ohm();
        $edge = $n * RunLimits::BAND_V;

        return $plan->charges()
            ? new self($plan, $t, $lastV - $edge - $relaxes, $lastV + $edge, $lastV)
            : new self($plan, $t, $lastV - $edge, $lastV + $edge + $relaxes, $lastV);
    }

    /**
     * @param  bool  $setPointsKnown  an order with set-points was given before this sample
     * @param  Order  $order  that order
     * @return Broken|null what is certain to be wrong; null otherwise, see `hasPassed()`
     */
    public function look(Sample $s, bool $setPointsKnown, Order $order): ?Broken
    {
        $this->seen = [];
        $this->lacks = null;
        $this->passed = false;
        $certain = $this->proofs($s, $setPointsKnown, $order);
        if ($certain !== null) {
            return $certain;
        }
        if ($this->isLacking()) {
            return $this->late($s->t);
        }
        $v = (float) $s->v;
        if ($this->agreed && $setPointsKnown) {
            $this->passed = true;

            return null;
        }
        $alike = max(RunLimits::AGREE_V, RunLimits::BAND_SIGMAS * Step::ofTwo($this->plan->resolutionV)) * $this->plan->n();
        if (
            $this->round === null ||
            $s->t - $this->round['t'] > RunLimits::MISSING_S ||
            abs($v - $this->round['v']) > $alike + Tiny::SLACK
        ) {
            $this->round = ['t' => $s->t, 'v' => $v];
        } elseif ($s->t - $this->round['t'] >= RunLimits::ROUND_LEAST_S - Tiny::SUM) {
            $this->agreed = true;
        }
        $this->note('rounds', $this->agreed ? true : null, $this->agreed ? 'two rounds agree' : 'a second round, at least 5 s later');
        $this->lacks = new Broken(Why::ClipsOpen, 'two rounds that agree');

        return $this->late($s->t);
    }

    private function isLacking(): bool
    {
        return $this->lacks !== null;
    }

    /** The first order goes out from the first sample on that passes. */
    public function hasRound(): bool
    {
        return $this->round !== null;
    }

    public function hasPassed(): bool
    {
        return $this->passed;
    }

    /** @return Broken|null the stop, once it has taken too long */
    public function late(float $t): ?Broken
    {
        if ($this->askedAt !== null && $t - $this->askedAt >= RunLimits::ANSWER_S) {
            return new Broken(
                Why::ClipsWrongGroup,
                rtrim($this->lacks->text ?? 'nobody has read the group anew', '.') . ': nobody answered within 3 min',
            );
        }
        if ($t - $this->since <= RunLimits::PROVE_S) {
            return null;
        }

        return new Broken($this->lacks->why ?? Why::ReadingMissing, 'Not proved in 5 min, lacking: ' . ($this->lacks->text ?? 'readings'));
    }

    /** A person clips on: the time counts from now. */
    public function startsAt(float $t): void
    {
        $this->since = $t;
        $this->round = null;
        $this->agreed = false;
    }

    /** @return list<array{what: string, ok: bool|null, text: string}> each proof as it stands; null = not yet */
    public function seen(): array
    {
        return $this->seen;
    }

    public function asksReading(): bool
    {
        return $this->askedAt !== null;
    }

    private function proofs(Sample $s, bool $setPointsKnown, Order $order): ?Broken
    {
        if ($this->plan->isSingle() && $this->plan->resolutionV > RunLimits::COARSEST_V + Tiny::SLACK) {
            return new Broken(
                Why::ReadingMissing,
                sprintf('A meter that shows steps of %.0f mV cannot see a group hang: use a finer one', 1000 * $this->plan->resolutionV),
            );
        }
        $missing = array_keys(
            array_filter(['volts' => $s->v, 'amps' => $s->a, 'temperature' => $s->c], fn(?float $x): bool => $x === null),
        );
        if ($this->plan->kind === 'bypass' && !$s->hasGroups($this->plan->pack->series)) {
            $missing[] = 'every group';
        }
        if ($missing !== []) {
            $this->lack('readings', Why::ReadingMissing, implode(', ', $missing) . ' not read');
        } else {
            $this->note('readings', true, 'volts, amps and temperature are read');
        }
        $certain = $s->v === null ? null : $this->place($s->v, $s);
        if ($certain !== null) {
            return $certain;
        }
        if ($setPointsKnown) {
            $wrong = SetPoints::differ($this->plan, $order, $s);
            $wrong === null
                ? $this->note(
                    'set',
                    true,
                    $s->setA === null ? 'set-points cannot be read: a tenth of the current first' : 'set-points read back as ordered',
                )
                : $this->lack('set', Why::SupplyNotAsOrdered, $wrong);
        }

        return null;
    }

    private function place(float $v, Sample $s): ?Broken
    {
        if (abs($v) < RunLimits::OPEN_V) {
            $this->round = null;
            $this->agreed = false;
            $this->lack('place', Why::ClipsOpen, sprintf('%.0f mV at the clips: open, or the group is dead', 1000 * $v));

            return null;
        }
        $n = $this->plan->n();
        $inside = $v >= $this->low - Tiny::SLACK && $v <= $this->high + Tiny::SLACK;
        $near = $this->nearest($v, $s);
        if ($inside) {
            $this->askedAt = null;
            $alike = $this->alike($s);
            $this->note(
                'place',
                true,
                sprintf(
                    '%.3f V, as the plan has it%s',
                    $v,
                    $alike === []
                        ? ''
                        : '; cannot be told from group' . (count($alike) > 1 ? 's ' : ' ') . implode(', ', $alike) . ' by volts',
                ),
            );

            return null;
        }
        $off = $v < $this->low ? $this->low - $v : $v - $this->high;
        $says =
            sprintf('%.3f V at the clips, the plan has %.3f V', $v, $this->plan->planV) .
            ($near === []
                ? ''
                : ': it looks like group ' .
                    implode(' or ', array_slice($near, 0, self::NAMED)) .
                    (count($near) > self::NAMED ? ' or another' : ''));
        if ($near !== [] || $off + $n * RunLimits::BAND_V > $n * RunLimits::STALE_V + Tiny::SLACK) {
            return new Broken(Why::ClipsWrongGroup, $says);
        }
        $fresh = $n === 1 && $this->plan->group !== null ? $s->groups[$this->plan->group - 1] ?? null : null;
        if ($fresh !== null && abs($fresh - $v) <= RunLimits::BAND_V) {
            $this->note('place', true, sprintf('%.3f V, as the scanner reads group %d', $v, $this->plan->group));

            return null;
        }
        $this->askedAt ??= $s->t;
        $this->round = null;
        $this->agreed = false;
        $this->lack('place', Why::ClipsWrongGroup, "$says. Read the group anew and type it");

        return null;
    }

    /** @return list<int> other groups whose known volts lie nearer than the plan's, those that are alike together */
    private function nearest(float $v, Sample $s): array
    {
        $others = array_map(fn(float $known): float => abs($v - $known), $this->others($s));
        $own = abs($v - min(max($this->own, $this->low), $this->high));
        if ($others === [] || min($others) >= $own - self::SAME_V) {
            return [];
        }
        $best = min($others);

        return array_keys(array_filter($others, fn(float $d): bool => $d <= $best + RunLimits::AGREE_V));
    }

    /** @return list<int> groups that volts cannot tell from the planned one */
    private function alike(Sample $s): array
    {
        return array_keys(array_filter($this->others($s), fn(float $v): bool => $v >= $this->low && $v <= $this->high));
    }

    /** @return array<int, float> volts of the other groups, by number, as freshly as they are known */
    private function others(Sample $s): array
    {
        if ($this->plan->n() > 1 || $this->plan->group === null) {
            return [];
        }
        $out = [];
        foreach ($s->groups ?? $this->plan->knownV as $i => $v) {
            if ($v !== null && $i + 1 !== $this->plan->group) {
                $out[$i + 1] = $v;
            }
        }

        return $out;
    }

    private function lack(string $what, Why $why, string $text): void
    {
        $this->note($what, false, $text);
        $broken = new Broken($why, $text);
        $this->lacks = $this->lacks === null || $broken->why->rank() < $this->lacks->why->rank() ? $broken : $this->lacks;
    }

    private function note(string $what, ?bool $ok, string $text): void
    {
        $this->seen[] = ['what' => $what, 'ok' => $ok, 'text' => $text];
    }

    private static function band(RunPlan $plan): float
    {
        return $plan->n() * max(RunLimits::BAND_V, RunLimits::BAND_SIGMAS * hypot($plan->planSigmaV, Step::sigma($plan->resolutionV)));
    }
}
