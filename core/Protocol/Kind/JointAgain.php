<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol\Kind;

use Heartwood\Core\Build\Joint;
use Heartwood\Core\Limits\ProofLimits;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Protocol\Course;
use Heartwood\Core\Protocol\Field;
use Heartwood\Core\Protocol\Outcome;
use Heartwood\Core\Protocol\Protocol;
use Heartwood\Core\Protocol\Ready;
use Heartwood\Core\Protocol\Step;

/** Millivolts across a joint at a known current, against what it had when it was set and against its group. */
final class JointAgain extends Protocol
{
    public function code(): string
    {
        return 'joint-again';
    }

    public function title(): string
    {
        return 'Read a joint again';
    }

    public function why(): string
    {
        return 'Millivolts straight across the joint at a known current: milliohm, against what it had when it was set.';
    }

    public function scope(): string
    {
        return 'joint';
    }

    public function needs(Course $c): array
    {
        return [Ready::dischargeable($c)];
    }

    public function steps(Course $c): array
    {
        return [
            Step::do('look', 'Look at it: colour, paste, a hot smell, both lugs flat on their face. Torque mark where it was drawn?'),
            Step::ask('read', 'Current on. Probe tips on the lug and on the pole, not on the bolt.', [
                Field::number('mv', 'Millivolts across it', 0.0, 1000.0),
                Field::number('current_a', 'Current, A, out is negative', -self::MOST_A, self::MOST_A),
                Field::number('place_c', 'The joint, degC', self::LEAST_C, self::MOST_C, true),
            ]),
        ];
    }

    protected function against(Course $c, Step $step, \Heartwood\Core\Record\Fields $values): array
    {
        return $step->code === 'read' && abs($values->float('current_a') ?? 0.0) < ProofLimits::LOADED_A
            ? ['current_a' => 'Without a current there are no millivolts to read: say at how many amps.']
            : [];
    }

    /** What it had when it was last set or read; null where nobody did. */
    private function had(Course $c): ?float
    {
        $had = null;
        foreach ($c->record->currentTests('continuity') as $t) {
            $amps = $t->data->float('current_a');
            $drop = $t->data->float('drop_v');
            if ($t->place->key() === $c->scope->key() && $drop !== null && $amps !== null && abs($amps) >= ProofLimits::LOADED_A) {
                $had = Joint::milliohm(1000 * abs($drop), abs($amps));
            }
        }

        return $had;
    }

    public function outcome(Course $c): Outcome
    {
        $v = $c->values('read');
        [$mv, $amps] = [(float) $v->float('mv'), abs((float) $v->float('current_a'))];
        $now = Joint::milliohm($mv, $amps);
        $had = $this->had($c);
        $again = Joint::again($had, $now, 0);
        $reasons = [];
        if ($mv / 1000 > VerdictLimits::JOINT_DROP_V) {
            $reasons[] = sprintf('%.0f mV is over the %.0f that a joint may have.', $mv, 1000 * VerdictLimits::JOINT_DROP_V);
        }
        if (($mv / 1000) * $amps > VerdictLimits::JOINT_DROP_W) {
            $reasons[] = sprintf('%.1f W of heat in it: over %.1f.', ($mv / 1000) * $amps, VerdictLimits::JOINT_DROP_W);
        }
        if ($again['holds'] === false) {
            $reasons[] = $again['text'];
        }

        return Outcome::of(
            $reasons === [],
            [],
            sprintf('%.2f mohm at T%d', $now, $c->scope->number) . ($had === null ? '' : sprintf(', it had %.2f', $had)),
            $reasons,
            [
                [
                    'kind' => 'continuity',
                    'element' => 'joint',
                    'where' => ['joint' => $c->scope->number],
                    'drop_v' => $mv / 1000,
                    'current_a' => (float) $v->float('current_a'),
                ],
            ],
        );
    }
}
