<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol\Kind;

use Heartwood\Core\Limits\LogLimits;
use Heartwood\Core\Limits\ProofLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Protocol\Course;
use Heartwood\Core\Protocol\Field;
use Heartwood\Core\Protocol\Needs;
use Heartwood\Core\Protocol\Outcome;
use Heartwood\Core\Protocol\Protocol;
use Heartwood\Core\Protocol\Step;

/** At which voltage of one sense input the board cuts: without overcharging or emptying a cell for it. */
final class BoardCut extends Protocol
{
    public function code(): string
    {
        return 'board-cut';
    }

    public function title(): string
    {
        return 'Prove the board\'s cuts at a sense input';
    }

    public function why(): string
    {
        return 'One sense input is fed from outside and moved slowly until the board cuts: no cell is overcharged or emptied for it.';
    }

    public function moves(): bool
    {
        return false;
    }

    public function proves(): array
    {
        return [Check::HighCut, Check::LowCut];
    }

    public function needs(Course $c): array
    {
        $own = $c->pack->bms->float('high_cut_v') !== null && $c->pack->bms->float('low_cut_v') !== null;

        return [
            $own
                ? new Needs(sprintf('Its sheet says %.2f and %.2f V.', $c->pack->highCutV(), $c->pack->lowCutV()), true)
                : new Needs(
                    'Nobody said what its sheet says: it is held against what boards of this kind do.',
                    null,
                    'intake',
                    'Say its cuts',
                ),
        ];
    }

    public function steps(Course $c): array
    {
        return [
            Step::do(
                'input',
                'Sense plug out. A small supply of its own (isolated, 100 mA) on one sense input through 1 kohm; the other ' .
                    'inputs on the cells.',
            ),
            Step::ask('high', 'Raise it by 10 mV a second until the charge switch opens.', [
                Field::number('v', 'It cut at, V', 0.0, LogLimits::CELL_MOST_V),
                Field::number('release_v', 'It came back at, V', 0.0, LogLimits::CELL_MOST_V, true),
            ])->may(),
            Step::ask('low', 'Lower it by 10 mV a second until the discharge switch opens.', [
                Field::number('v', 'It cut at, V', 0.0, LogLimits::CELL_MOST_V),
                Field::number('release_v', 'It came back at, V', 0.0, LogLimits::CELL_MOST_V, true),
            ])->may(),
            Step::do('plug', 'Supply off and away; the plug read pin by pin before it goes in again.'),
        ];
    }

    public function outcome(Course $c): Outcome
    {
        $proof = $reasons = $missing = $said = [];
        foreach (
            [
                'high' => [Check::HighCut, $c->pack->highCutV(), 'high_cut_v'],
                'low' => [Check::LowCut, $c->pack->lowCutV(), 'low_cut_v'],
            ]
            as $end => [$check, $want, $field]
        ) {
            $v = $c->values($end)->float('v');
            if ($v === null) {
                $missing[] = "The $end cut was not tried.";

                continue;
            }
            $proof[$check->value] = ['v' => $v];
            $said[] = sprintf('%s at %.3f V', $end, $v);
            if (abs($v - $want) > ProofLimits::CUT_V + Tiny::COARSE) {
                $text = sprintf('The %s cut is at %.3f V, %.2f is ', $end, $v, $want);
                $c->pack->bms->float($field) === null
                    ? ($missing[] = $text . 'usual: compare it with the board\'s sheet.')
                    : ($reasons[] = $text . 'what its sheet says.');
            }
        }

        return Outcome::of(
            $reasons === [],
            $reasons === [] ? $missing : [],
            'It cuts ' . ($said === [] ? 'nowhere that was tried' : implode(', ', $said)),
            $reasons,
            [],
            $proof,
        );
    }
}
