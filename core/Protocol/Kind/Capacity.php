<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol\Kind;

use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Limits\LogLimits;
use Heartwood\Core\Limits\ProofLimits;
use Heartwood\Core\Limits\ProtocolLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Protocol\Course;
use Heartwood\Core\Protocol\Entry;
use Heartwood\Core\Protocol\Field;
use Heartwood\Core\Protocol\Found;
use Heartwood\Core\Protocol\Outcome;
use Heartwood\Core\Protocol\Protocol;
use Heartwood\Core\Protocol\Ready;
use Heartwood\Core\Protocol\Step;

/** What a pack or a group holds: full to the taper's end, rest, out at a fifth of its capacity to the cut-off. */
final class Capacity extends Protocol
{
    public function code(): string
    {
        return 'capacity';
    }

    public function title(): string
    {
        return 'Measure the capacity';
    }

    public function why(): string
    {
        return 'Full to the taper\'s end, rested, out at a fifth of its capacity to the cut-off, logged: only that tells what it holds.';
    }

    public function charges(): bool
    {
        return true;
    }

    public function scope(): string
    {
        return 'pack-or-group';
    }

    public function tests(): array
    {
        return [TestKind::CapacityPack, TestKind::CapacityGroup];
    }

    public function proves(): array
    {
        return [Check::Capacity];
    }

    public function needs(Course $c): array
    {
        return [Ready::read($c), Ready::chargeable($c)];
    }

    public function steps(Course $c): array
    {
        $pack = $c->scope->kind === 'pack';
        $amps = $c->ampsOver(LogLimits::RATE_H);
        $cut = $c->pack->profile()->testCutoffV;

        return [
            Step::ask(
                'full',
                $pack ? 'Charge it fully, until the charger has tapered off.' : 'Fill the group singly, until the supply has tapered off.',
                [Field::yesNo('by_taper', 'Ended by the taper, not by a cut-off or by a person?')],
            )->in($pack ? 'supply?do=charge' : 'supply?do=balance', 'At the supply'),
            Step::wait(
                'rest',
                sprintf('Let it rest for %.0f to %.0f min.', ProtocolLimits::REST_MIN, ProtocolLimits::REST_MOST_MIN),
                ProtocolLimits::REST_MIN,
            ),
            Step::ask(
                'discharge',
                sprintf(
                    'Discharge it at %s down to %s and log it. The log file can be read in: then nothing is typed here.',
                    $amps === null ? 'a fifth of its capacity an hour' : sprintf('about %.2f A', $amps),
                    sprintf('%.2f V a group', $cut) .
                        ($pack ? sprintf(' (%.1f V, or the first group there)', $cut * $c->pack->series) : ''),
                ),
                [
                    Field::number('measured_ah', 'It gave, Ah', 0.0, self::MOST_AH),
                    Field::number('rate_a', 'At amps', 0.0, self::MOST_A),
                    Field::number('cutoff_v', 'Lowest group at the end, V', -1.0, LogLimits::CELL_MOST_V),
                    Field::number('ambient_c', 'Its temperature, degC', self::LEAST_C, self::MOST_C),
                ],
            )->in('probe?test=log', 'Read the log in'),
        ];
    }

    public function watch(Course $c): array
    {
        return ['No group under its cut-off: the discharge ends there.', ...Ready::warm($c, false)];
    }

    public function found(Course $c, Step $step, float $since): ?Entry
    {
        return match ($step->code) {
            'full' => Found::run($c, 'full', $c->scope->kind === 'pack' ? 'charge' : 'balance', $since),
            'discharge' => Found::test($c, 'discharge', 'capacity', $since),
            default => null,
        };
    }

    /** Minutes that the discharge itself took, by what it gave at how many amps. */
    private static function took(float $ah, ?float $rate): float
    {
        return $rate === null || $rate <= 0.0 ? 0.0 : (60 * $ah) / $rate;
    }

    public function outcome(Course $c): Outcome
    {
        $v = $c->values('discharge');
        $logged = $c->entry('discharge')?->found !== '';
        $ah = (float) $v->float('measured_ah');
        $rated = $c->pack->groupCapacityAh();
        $missing = [];
        $full = $c->values('full')->bool('by_taper') === true;
        if (!$full) {
            $missing[] = 'It was not full: what it gave is what was left in it.';
        }
        $rate = $v->float('rate_a');
        // It is written down when it is over. A log is timed by itself: when it was read in says nothing of the rest.
        $apart = $logged ? null : $c->minutes('full', 'discharge');
        $rested = $apart === null ? null : $apart - self::took($ah, $rate);
        if ($rested !== null && $rested < ProtocolLimits::REST_MIN - Tiny::COARSE) {
            $missing[] = sprintf(
                'It rested %s between charge and discharge: %.0f min are wanted.',
                // Written down sooner than such a discharge takes: it began before the charge was said to be over.
                $rested < 0.0 ? 'not at all' : sprintf('only %.0f min', $rested),
                ProtocolLimits::REST_MIN,
            );
        }
        $want = $c->ampsOver(LogLimits::RATE_H);
        if ($rate !== null && $want !== null && abs($rate / $want - 1) > LogLimits::RATE_SHARE) {
            $missing[] = sprintf('At %.2f A it is no discharge in about five hours (%.2f A).', $rate, $want);
        }
        $end = $v->float('cutoff_v');
        if ($end !== null && $end > $c->pack->profile()->testCutoffV + LogLimits::FULL_WITHIN_V) {
            $missing[] = sprintf('It ended at %.2f V a group, over the cut-off of %.2f V.', $end, $c->pack->profile()->testCutoffV);
        }
        $warm = $v->float('ambient_c');
        if ($warm !== null && ($warm < LogLimits::COLDEST_C || $warm > LogLimits::WARMEST_C)) {
            $missing[] = sprintf('At %.0f degC: %.0f to %.0f are wanted.', $warm, LogLimits::COLDEST_C, LogLimits::WARMEST_C);
        }
        $scope = $c->scope->toArray() ?? 'pack';
        $test = array_filter(
            ['kind' => 'capacity', 'scope' => $scope, 'measured_ah' => $ah, 'rate_a' => $rate, 'cutoff_v' => $end, 'ambient_c' => $warm],
            fn(mixed $x): bool => $x !== null,
        ) + ['started_full' => $full];

        return Outcome::of(
            $rated === null || $ah >= ProofLimits::CAPACITY_SHARE * $rated,
            $missing,
            sprintf('%.2f Ah%s', $ah, $rated === null ? '' : sprintf(', %.0f %% of %.2f Ah', (100 * $ah) / $rated, $rated)),
            [
                ...$rated === null ? ['Nobody said what it should hold.'] : [],
                ...$rested !== null && $rested > ProtocolLimits::REST_MOST_MIN + Tiny::COARSE
                    ? [
                        sprintf(
                            'It rested %.0f min, over the usual %.0f: it lost a little by itself meanwhile.',
                            $rested,
                            ProtocolLimits::REST_MOST_MIN,
                        ),
                    ]
                    : [],
            ],
            // A test that was read in stands on record already.
            $logged ? [] : [$test],
        );
    }
}
