<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;

/** Everything that a screen shows of a run, made here so that the screen decides nothing. */
final class RunView
{
    /** @return array<string, mixed> */
    public static function of(SupervisedRun $run, RunFacts $f): array
    {
        $plan = $run->plan();
        $order = $run->order();
        $end = $run->ended();
        $since = $f->lastT - $f->phaseAt;
        $band =
            $f->phase->drives() && $f->start !== null
                ? HealthyBand::of($plan, $f->start['v'], max(0.0, $f->ah - $f->start['ah']), $order->amps)
                : null;

        return [
            'phase' => $f->phase->value,
            'phase_word' => self::word($f),
            'working' => $f->working->value,
            'paused' => $f->paused,
            'over' => $run->isOver(),
            'stopped_by' => $end?->why->value,
            'stop_word' => $end?->why->word(),
            'good' => $end?->why->isGood() ?? false,
            'asks_triage' => $end !== null && $f->after !== null && $end->why->wantsTriage(),
            'text' => $end === null ? '' : rtrim(ucfirst($end->text), '.') . '.',
            'since_s' => round($since, 1),
            'run_s' => round($f->lastT - $f->startedAt, 1),
            'v' => $f->v,
            'a' => $f->a,
            'c' => $f->c,
            'ah_in' => round($f->ah, 4),
            'share' => round(abs($f->ah) / ($plan->capacityAh() * 1.0), 4),
            'expected' => $band === null ? null : ['low' => round($band[0], 3), 'high' => round($band[1], 3)],
            'watch' => $run->isOver() ? [] : self::watch($plan, $f, $since),
            'proofs' => $f->phase === Phase::Prove ? $f->prover->seen() : [],
            'asks_clip' => !$f->clipped && !$run->isOver(),
            'asks_reading' => $f->phase === Phase::Prove && $f->prover->asksReading(),
            'log' => $f->log,
            'group' => $plan->group ?? 0,
            'items' => [],
            'remaining_h' => null,
            'order' => ['on' => $order->on, 'volts' => round($order->volts, 3), 'amps' => round($order->amps, 4), 'trial' => $f->trial],
            'limits' => self::limits($plan),
            'planned' => $run->isOver() ? null : Planned::of($plan, $f),
            'set' => ['volts' => $f->last?->setV, 'amps' => $f->last?->setA],
            'ask_in_s' => $plan->byHand ? self::ask($plan, $f) : null,
            'confirm_in_s' => $plan->confirmEveryMin === null ? null : round($f->confirmedAt + 60 * $plan->confirmEveryMin - $f->lastT),
            'ambient_c' => $f->ambientC,
            'ambient_old' => !$run->isOver() && $f->lastT - $f->ambientAt > RunLimits::AMBIENT_OLD_S,
            'after' => $f->after?->toArray(),
        ];
    }

    private static function word(RunFacts $f): string
    {
        return match (true) {
            $f->phase === Phase::Prove && !$f->clipped => 'meter first: the supply\'s clip goes on when it reads right',
            $f->phase === Phase::Prove && $f->paused !== null => 'paused, output off',
            default => $f->phase->word(),
        };
    }

    private static function ask(RunPlan $plan, RunFacts $f): float
    {
        return round(
            ($f->lastWholeAt ?? $f->startedAt) + Asked::seconds($plan, $f->phase, $f->history, $f->v, $f->lastT - $f->phaseAt) - $f->lastT,
        );
    }

    /** @return array{volts: float, amps: float} what the run may come to at most, for whoever sets a supply by hand */
    private static function limits(RunPlan $plan): array
    {
        return [
            'volts' => round($plan->volts(), 3),
            'amps' => round(
                abs(
                    $plan->amps(
                        $plan->kind === 'recovery'
                            ? Phase::Precharge
                            : ($plan->kind === 'balance'
                                ? Phase::Fill
                                : ($plan->charges()
                                    ? Phase::Charge
                                    : Phase::Discharge)),
                    ),
                ),
                3,
            ),
        ];
    }

    /**
     * @return list<array{rule: string, text: string, in_s: float|null, met: bool}> the rules that can end it now, and when each can
     * decide
     */
    private static function watch(RunPlan $plan, RunFacts $f, float $since): array
    {
        $c = $plan->capacityAh();
        $t = $f->lastT;
        $out = [];
        $row = function (string $rule, string $text, ?float $in = null, bool $met = false) use (&$out): void {
            $out[] = ['rule' => $rule, 'text' => $text, 'in_s' => $in === null ? null : max(0.0, round($in, 1)), 'met' => $met];
        };
        if ($f->phase === Phase::Precharge) {
            $span = Rule\Hangs::span($c, abs($plan->amps(Phase::Precharge)));
            $then = $f->history->voltsBefore($span);
            $from = $then ?? $plan->planV;
            $risen = 1000 * (($f->v ?? $from) - (float) $f->a * $plan->ohm() - $from);
            $met = $risen >= 1000 * RunLimits::RISE_V;
            $clock = min($span, $f->history->seconds());
            $row(
                Why::VoltageHangs->value,
                sprintf('risen %.0f of %.0f mV in %.0f min of current', $risen, 1000 * RunLimits::RISE_V, $clock / 60),
                $met ? null : $span - $clock,
                $met,
            );
            $left = RunLimits::SHARE_BEFORE_PRECHARGE * $c - $f->ah;
            $row(
                Why::ChargeTooMuch->value,
                sprintf('%.1f of %.0f %% of capacity in', (100 * $f->ah) / $c, 100 * RunLimits::SHARE_BEFORE_PRECHARGE),
                ($left / max(Tiny::SUM, abs($plan->amps(Phase::Precharge)))) * 3600,
            );
        } elseif ($f->phase->drives() && $f->mostAh !== null) {
            $row(
                Why::ChargeTooMuch->value,
                sprintf('%.2f of at most %.2f Ah', $f->gapAh, $f->mostAh),
                (($f->mostAh - $f->gapAh) / max(Tiny::SUM, abs($plan->amps($f->phase)))) * 3600,
            );
        }
        if ($f->lasts !== null) {
            $f->phase === Phase::Rest
                ? $row(
                    Why::RestFalls->value,
                    sprintf('at most %.0f mV in the last 15 min', 1000 * RunLimits::REST_FALL_V),
                    $f->lasts - $since,
                )
                : $row(
                    'settle',
                    $plan->targetV === null ? 'then read again' : sprintf('then read again: %.3f V wanted', $plan->targetV),
                    $f->lasts - $since,
                );
        }
        if ($f->phase->drives() && $plan->charges()) {
            $row(Why::VoltagePastFull->value, sprintf('%.3f of %.2f V', $f->v ?? 0.0, $plan->n() * $plan->fullV()));
        }
        $groups = array_filter($f->last->groups ?? [], fn(?float $v): bool => $v !== null);
        if ($groups !== [] && !$plan->isSingle()) {
            $top = (int) array_search(max($groups), $groups, true);
            $low = (int) array_search(min($groups), $groups, true);
            $plan->charges() &&
                $row(
                    Why::GroupPastFull->value,
                    sprintf(
                        'fullest: group %d, %.3f of %.2f V',
                        $top + 1,
                        $groups[$top],
                        $plan->kind === 'charge' ? $plan->pack->highCutV() : $plan->fullV(),
                    ),
                );
            $row(
                Why::GroupBelowFloor->value,
                sprintf(
                    $plan->kind === 'bypass'
                        ? 'lowest: group %d, %.3f V; the board takes over at %.2f V'
                        : 'lowest: group %d, %.3f V; %.2f V ends it',
                    $low + 1,
                    $groups[$low],
                    $plan->kind === 'bypass'
                        ? $plan->pack->lowReleaseV()
                        : ($plan->charges()
                            ? $plan->floorV()
                            : $plan->pack->profile()->testCutoffV),
                ),
            );
        }
        $over =
            $plan->isSingle() || $plan->kind === 'bypass'
                ? RunLimits::SINGLE_OVER_AMBIENT_K
                : ($plan->charges()
                    ? RunLimits::CHARGE_OVER_AMBIENT_K
                    : RunLimits::DISCHARGE_OVER_AMBIENT_K);
        $row(
            Why::TemperatureRises->value,
            sprintf('%.1f of %.0f K over %.1f degC around it', ($f->c ?? $f->ambientC) - $f->ambientC, $over, $f->ambientC),
        );
        $row(Why::ReadingMissing->value, 'a whole reading within 3 min', ($f->lastWholeAt ?? $f->startedAt) + RunLimits::MISSING_S - $t);

        return $out;
    }
}
