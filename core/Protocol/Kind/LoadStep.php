<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol\Kind;

use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Limits\LogLimits;
use Heartwood\Core\Limits\ProofLimits;
use Heartwood\Core\Limits\ProtocolLimits;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Protocol\Course;
use Heartwood\Core\Protocol\Field;
use Heartwood\Core\Protocol\Outcome;
use Heartwood\Core\Protocol\Protocol;
use Heartwood\Core\Protocol\Ready;
use Heartwood\Core\Protocol\Step;
use Heartwood\Core\Record\Condition;
use Heartwood\Core\Record\Places;

/** What each group sags under the working current, and whether it comes back. */
final class LoadStep extends Protocol
{
    public function code(): string
    {
        return 'load-step';
    }

    public function title(): string
    {
        return 'Read under load';
    }

    public function why(): string
    {
        return 'At rest, ten and sixty seconds into the working current, and a minute after it: tells a weak joint or cell from a low one.';
    }

    public function tests(): array
    {
        return [TestKind::LoadStep];
    }

    public function proves(): array
    {
        return [Check::LoadTest];
    }

    public function needs(Course $c): array
    {
        return [Ready::read($c), Ready::dischargeable($c)];
    }

    public function steps(Course $c): array
    {
        $again = Field::number('again_v', 'The first group once more, V', -1.0, LogLimits::CELL_MOST_V)->because(
            'If it moved while the others were read, they were not read at one moment.',
        );
        $amps = $c->pack->loadAmps();
        $first = Field::number('current_a', 'Current, A', ProofLimits::LOADED_A, self::MOST_A)->with(
            $amps === null ? null : (string) round($amps, 1),
        );
        $flows = $c->values('at-10')->float('current_a') ?? $amps;

        return [
            Step::read('before', 'Nothing connected: read every group at rest.', Condition::Rest, [$again])->in('probe', 'Read the groups'),
            Step::read(
                'at-10',
                sprintf(
                    'Working current on%s. Read every group ten seconds in; with one meter in the hand leave it out.',
                    $amps === null ? '' : sprintf(' (%.1f A by the device)', $amps),
                ),
                Condition::Discharge,
                [$first],
                ProtocolLimits::LOAD_FIRST_S,
            )->may(),
            Step::read(
                'at-60',
                'Read every group from sixty seconds in, then the first once more. Then current off.',
                Condition::Discharge,
                [$first->with($flows === null ? null : (string) round($flows, 1)), $again],
                ProtocolLimits::LOAD_S,
            ),
            // A minute after a current is no rest: nobody takes it for one.
            Step::read(
                'after',
                'Current off for a minute: read every group once more.',
                Condition::Relaxing,
                [$again],
                ProtocolLimits::LOAD_S,
            ),
        ];
    }

    public function watch(Course $c): array
    {
        return [sprintf('No group under %.2f V, the low cut: current off.', $c->pack->lowCutV()), ...Ready::warm($c, false)];
    }

    public function outcome(Course $c): Outcome
    {
        $before = $c->groups('before') ?? [];
        $at = $c->groups('at-60') ?? [];
        $after = $c->groups('after') ?? [];
        $amps = abs($c->values('at-60')->float('current_a') ?? 0.0);
        $sags = $stays = $unread = [];
        foreach (range(1, $c->pack->series) as $k) {
            $a = $before[$k - 1] ?? null;
            $b = $at[$k - 1] ?? null;
            if ($a === null || $b === null) {
                $unread[] = $k;

                continue;
            }
            $sags[$k] = $a - $b;
            if (isset($after[$k - 1])) {
                $stays[$k] = $a - $after[$k - 1];
            }
        }
        $missing = $unread === [] ? [] : ['Not read at rest and under load: ' . Places::of('group', $unread) . '.'];
        if ($sags === [] || $amps === 0.0) {
            return Outcome::of(false, $missing === [] ? ['No current was said.'] : $missing, 'Nothing to compare.');
        }
        $middle = Robust::median(array_values($sags));
        foreach (['before', 'at-60', 'after'] as $step) {
            $again = $c->values($step)->float('again_v');
            $first = ($c->groups($step) ?? [])[0] ?? null;
            $may = max(ProtocolLimits::AGAIN_V, ProtocolLimits::AGAIN_SHARE * abs($middle));
            if ($again !== null && $first !== null && abs($again - $first) > $may + Tiny::COARSE) {
                $missing[] = sprintf(
                    'The first group moved %.0f mV while the others were read: read faster, or with instruments.',
                    1000 * abs($again - $first),
                );
            }
        }
        $reasons = [];
        foreach ($sags as $k => $sag) {
            if (abs($sag - $middle) > max(ProofLimits::SAG_SHARE * abs($middle), ProofLimits::SAG_V) + Tiny::COARSE) {
                $reasons[] = sprintf(
                    'Group %d sags %.0f mV, the middle one %.0f mV: %+.1f mohm.',
                    $k,
                    1000 * $sag,
                    1000 * $middle,
                    (1000 * ($sag - $middle)) / $amps,
                );
            }
            if (($at[$k - 1] ?? 0.0) < $c->pack->lowCutV()) {
                $reasons[] = sprintf('Group %d falls to %.2f V, under the low cut.', $k, $at[$k - 1]);
            }
        }
        $left = $stays === [] ? 0.0 : Robust::median(array_values($stays));
        foreach ($stays as $k => $stay) {
            if ($stay - $left > ProtocolLimits::STAYS_V + Tiny::COARSE) {
                $reasons[] = sprintf(
                    'Group %d stays %.0f mV further down than the middle one: it holds little, or is low.',
                    $k,
                    1000 * ($stay - $left),
                );
            }
        }

        return Outcome::of(
            $reasons === [],
            $missing,
            sprintf('The middle group sags %.0f mV at %.1f A, %.1f mohm', 1000 * $middle, $amps, (1000 * $middle) / $amps),
            $reasons,
        );
    }
}
