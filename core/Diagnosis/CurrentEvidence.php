<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Reading\GroupVoltage;
use Heartwood\Core\Reading\NetworkSolution;
use Heartwood\Core\Record\Condition;
use Heartwood\Core\Record\Measurement;

/** Sets under current turned into the excess resistance of groups and joints (handbook "Joint or cell resistance from current"). */
final readonly class CurrentEvidence
{
    /** Volts over the others after the current has stopped from which a group counts as fuller. */
    private const STAYS_V = 0.012;

    /** Volts of the middle group on charge from which the set tells of the top; on phosphate where the rise begins. */
    private const UNDER_FULL_V = 0.05;

    private const PHOSPHATE_TOP_V = 3.42;

    /** Volts that a low group rises on charge beyond the others from which it does not merely fill. */
    private const JUMP_V = 0.3;

    /** Share of a joint's excess resistance that may be left when it counts as cured. */
    private const CURED = 0.35;

    public function __construct(private EvidenceDraft $pack) {}

    /** Excess resistance from every set with current: d(I) = a + r I (handbook "Joint or cell resistance from current"). */
    public function read(): void
    {
        $points = [];
        $middles = [];
        foreach ($this->pack->record->current() as $m) {
            if (!$m->underCurrent() || $m->fromBoard) {
                continue;
            }
            $solution = $this->pack->solved($m);
            $read = $solution->read();
            if (count($read) < 2) {
                continue;
            }
            $this->pack->solutions[] = $solution;
            $this->pack->underLoad = $this->pack->underLoad || $m->currentA < 0;
            $this->pack->onCharge = $this->pack->onCharge || $m->currentA > 0;
            $median = self::middle($solution);
            $rest = $this->pack->restNear($m->at);
            $restMiddle = $rest === null ? 0.0 : $this->middleAtRest($rest);
            if ($rest !== null && $this->pack->middleV !== null) {
                $middles[] = (($median - $restMiddle) / $m->currentA) * 1000;
            }
            if ($m->currentA > 0) {
                $this->readTop($read, $median, $rest);
            }
            foreach ($read as $g) {
                // A nearly full group shoots up on charge and would pass for resistance: what stays when the current
                // stops is charge, only what vanishes at once is resistance.
                $steep =
                    $m->currentA > 0 &&
                    $g->volts > ($this->pack->record->pack->chemistry->isPhosphate() ? 3.4 : $this->pack->record->pack->profile()->fullV);
                $stays = $m->currentA > 0 ? $this->relaxed($m, $g->group) : null;
                if ($g->doubt !== null || ($steep && $stays === null) || ($stays !== null && $stays > self::STAYS_V)) {
                    // Steep: on the rise at the end of charge even the part that vanishes is no measure of resistance.
                    continue;
                }
                $atRest = $stays ?? ($rest === null ? 0.0 : self::deviation($rest, $g->group, $restMiddle));
                if ($atRest !== null) {
                    $points[$g->group][] = [
                        $m->currentA,
                        (float) $g->volts - $median - $atRest,
                        hypot($g->ownSigmaV, $stays === null ? 0.002 : 0.003),
                        $m->at,
                    ];
                }
            }
        }
        if ($points === [] || ($this->pack->rest !== null && $this->pack->middleV === null)) {
            return;
        }
        $this->pack->middleResistanceMohm = $middles === [] ? null : max(0.1, Robust::median($middles));
        $healthy = max($this->pack->record->pack->groupResistanceMohm(), $this->pack->middleResistanceMohm ?? 0.0);
        foreach ($points as $k => $list) {
            $g = $this->pack->rest?->group($k);
            if ($this->pack->rest === null) {
                // Never read at rest: two currents tell a slope by themselves.
                [$r, $sigma] = self::slope($list);
            } else {
                if ($g?->volts === null || $g->doubt !== null) {
                    continue;
                }
                $atRest = [0.0, 0.0, hypot($g->ownSigmaV, 0.002)];
                [$r, $sigma] = self::slope([...$this->stillValid($k, $list, $atRest, $healthy / 1000), $atRest]);
            }
            if ($sigma * 1000 > 2 * $healthy) {
                continue;
            }
            $e = $this->pack->groups[$k - 1];
            $e->resistanceMohm = $r * 1000;
            $e->resistance = ($r * 1000) / $healthy;
            $e->resistanceSigma = hypot(($sigma * 1000) / $healthy, 0.05);
        }
    }

    /**
     * Groups on charge: at the top the one that stays behind is behind, as at rest there; one that lay low and shoots up
     * with the current is small or resists, it is not merely empty.
     *
     * @param  list<GroupVoltage>  $read
     */
    private function readTop(array $read, float $median, ?NetworkSolution $rest): void
    {
        $pack = $this->pack->record->pack;
        $top = $pack->chemistry->isPhosphate() ? self::PHOSPHATE_TOP_V : $pack->profile()->fullV - self::UNDER_FULL_V;
        $rises = array_values(
            array_filter(
                array_map(
                    fn(GroupVoltage $g): ?float => $rest?->group($g->group)->volts === null
                        ? null
                        : (float) $g->volts - $rest->group($g->group)->volts,
                    $read,
                ),
                fn(?float $r): bool => $r !== null,
            ),
        );
        $rise = $rises === [] ? 0.0 : Robust::median($rises);
        foreach ($read as $g) {
            $e = $this->pack->groups[$g->group - 1];
            $own = $rest?->group($g->group)->volts;
            // One that is at the top by itself, far from the others, is as telling.
            if (($median >= $top || (float) $g->volts >= $top) && $g->doubt === null) {
                $e->aheadAtTop = (float) $g->volts - $median;
                $this->pack->middleAtTopV = max($median, $this->pack->middleAtTopV ?? $median);
            }
            if ($own !== null && $own < $pack->lowCutV() && (float) $g->volts - $own - $rise > self::JUMP_V) {
                $e->jump = (float) $g->volts - $own - $rise;
            }
        }
    }

    private static function middle(NetworkSolution $solution): float
    {
        $read = $solution->read();

        return $read === [] ? 0.0 : Robust::median(array_map(fn(GroupVoltage $g): float => (float) $g->volts, $read));
    }

    /** Of the latest set the middle is known with slips and dead groups left out; of an earlier one the plain median stands for it. */
    private function middleAtRest(NetworkSolution $rest): float
    {
        return $rest === $this->pack->rest && $this->pack->middleV !== null ? $this->pack->middleV : self::middle($rest);
    }

    private static function deviation(NetworkSolution $rest, int $group, float $middle): ?float
    {
        $g = $rest->group($group);

        return $g->volts === null || $g->doubt !== null ? null : $g->volts - $middle;
    }

    /**
     * The readings that tell of group $k's resistance as it was found: when a joint beside it was re-tightened in
     * between, those before, and what changed speaks for or against that joint.
     *
     * @param  non-empty-list<array{float, float, float, ?\DateTimeImmutable}>  $points
     * @param  array{float, float, float}  $atRest
     * @return non-empty-list<array{float, float, float, ?\DateTimeImmutable}>
     */
    private function stillValid(int $k, array $points, array $atRest, float $healthyOhm): array
    {
        foreach ($this->pack->record->events as $event) {
            $tap = $event->object('where')->int('joint') ?? $event->object('where')->int('tap');
            $at = $event->string('at');
            if ($event->string('kind') !== 'retightened' || $at === null || ($tap !== $k && $tap !== $k - 1)) {
                continue;
            }
            $when = new \DateTimeImmutable($at);
            $before = array_values(array_filter($points, fn(array $p): bool => $p[3] !== null && $p[3] < $when));
            $after = array_values(array_filter($points, fn(array $p): bool => $p[3] !== null && $p[3] >= $when));
            if ($before === []) {
                continue;
            }
            [$was, $sigma] = self::slope([...$before, $atRest]);
            if ($was < 0.2 * $healthyOhm || $was < 3 * $sigma) {
                continue;
            }
            if ($after === []) {
                $this->pack->unreadJoints[] = $tap;

                continue;
            }
            [$is] = self::slope([...$after, $atRest]);
            $cured = $is < self::CURED * $was;
            $this->pack->jointDrop[$tap] ??= $cured;
            if ($cured) {
                $this->pack->retightened[$tap] = [1000 * $was, 1000 * $is];

                return $before;
            }
        }

        return $points;
    }

    /** How far a group still strays from the median in a relaxing set taken after $m; null without one. */
    private function relaxed(Measurement $m, int $group): ?float
    {
        foreach ($this->pack->record->current() as $r) {
            if (
                $r->condition !== Condition::Relaxing ||
                $r->at === null ||
                $m->at === null ||
                $r->at < $m->at ||
                $r->at->getTimestamp() - $m->at->getTimestamp() > 7200
            ) {
                continue;
            }
            $solution = $this->pack->solved($r);
            $v = $solution->group($group)->volts;
            $all = array_map(fn(GroupVoltage $x): float => (float) $x->volts, $solution->read());
            if ($v === null || count($all) < 2) {
                continue;
            }
            $d = $v - Robust::median($all);
            $this->pack->groups[$group - 1]->staysAtTop = $d;

            return $d;
        }

        return null;
    }

    /**
     * Weighted straight line through (amps, volts, sigma).
     *
     * @param  list<array{0: float, 1: float, 2: float, 3?: ?\DateTimeImmutable}>  $points  at least two different currents
     * @return array{float, float} ohms and 1 sigma
     */
    private static function slope(array $points): array
    {
        $w = $x = $y = $xx = $xy = 0.0;
        foreach ($points as [$i, $d, $sigma]) {
            $weight = 1 / ($sigma * $sigma);
            $w += $weight;
            $x += $weight * $i;
            $y += $weight * $d;
            $xx += $weight * $i * $i;
            $xy += $weight * $i * $d;
        }
        $det = $w * $xx - $x * $x;
        if ($det <= 1e-9) {
            return [0.0, 1.0];
        }

        return [($w * $xy - $x * $y) / $det, sqrt($w / $det)];
    }
}
