<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol\Kind;

use Heartwood\Core\Diagnosis\ChargerTrial as Trial;
use Heartwood\Core\Limits\LogLimits;
use Heartwood\Core\Limits\ProofLimits;
use Heartwood\Core\Limits\ProtocolLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Protocol\ChargerOdds;
use Heartwood\Core\Protocol\Course;
use Heartwood\Core\Protocol\Coverage;
use Heartwood\Core\Protocol\Cycle;
use Heartwood\Core\Protocol\Entry;
use Heartwood\Core\Protocol\Field;
use Heartwood\Core\Protocol\Needs;
use Heartwood\Core\Protocol\Outcome;
use Heartwood\Core\Protocol\Protocol;
use Heartwood\Core\Protocol\Ready;
use Heartwood\Core\Protocol\Step;
use Heartwood\Core\Record\Fields;

/** Cycles of a customer's charger on workshop cells behind a board that was seen to cut: what it did, and what was not tried. */
final class ChargerTrial extends Protocol
{
    /** Cycles that one trial holds. */
    private const MOST = 100;

    public const GUARDS = [
        'second cut-off proved today',
        'fuse in the lead',
        'fire-safe place',
        'nobody asleep near',
        'cells the shop is ready to lose',
    ];

    public const STAGES = ['cc', 'cv', 'float', 'equalise', 'desulphate', 'pulse'];

    public function code(): string
    {
        return 'charger-trial';
    }

    public function title(): string
    {
        return 'Charger trial';
    }

    public function why(): string
    {
        return 'The customer\'s charger on workshop cells, cycle after cycle: every mode, from empty, half and full, overnight, with the ' .
            'mains lost. What was not replicated is said, and how much that says.';
    }

    public function moves(): bool
    {
        // It is the workshop's cells that are charged: a pack on hold is not touched.
        return false;
    }

    public function charges(): bool
    {
        return true;
    }

    public function needs(Course $c): array
    {
        return [new Needs('Workshop cells of the same chemistry: never the customer\'s pack first.', null)];
    }

    public function steps(Course $c): array
    {
        $modes = $this->modes($c);
        $steps = [
            Step::ask('bench', 'Workshop cells behind a board. Prove today, at its sense input, that the board cuts.', [
                Field::text('cells', 'Which cells, and how many in series'),
                Field::number('cut_v', 'It cut at, V a cell', 0.0, LogLimits::CELL_MOST_V),
            ]),
            Step::ask('modes', 'What does the charger show that it can do?', [
                Field::text('modes', 'Its modes as it shows them, commas between'),
            ]),
        ];
        for ($i = 1; $i <= self::MOST; $i++) {
            $last = $c->values('begin-' . ($i - 1))->string('selected_by');
            $steps[] = Step::ask("begin-$i", "Cycle $i: what is set, before the mains go on?", [
                Field::choice('mode', 'Mode', $modes, $this->untried($c, 'mode', $modes)),
                Field::choice('selected_by', 'It was selected by', ['short-press', 'long-press', 'itself', 'unknown'], $last),
                Field::choice('from', 'Cells are', ['empty', 'half', 'full'], $this->untried($c, 'from', ['half', 'empty', 'full'])),
                Field::yesNo('cold', 'First time on today, charger cold?'),
                Field::yesNo('attended', 'Somebody stays with it all along?'),
                Field::marks('guards', 'Unattended only with all of these', self::GUARDS),
            ]);
            $steps[] = Step::ask("end-$i", "Cycle $i: what did it do?", [
                Field::number('hours', 'Hours on', 0.0, 1000.0),
                Field::number('open_v', 'Open, V', 0.0, self::MOST_V),
                Field::number('end_v', 'At the end, V', 0.0, self::MOST_V),
                Field::number('highest_group_v', 'Highest cell, V', -1.0, LogLimits::CELL_MOST_V),
                Field::marks('stages', 'Stages seen', self::STAGES),
                Field::yesNo('board_cut', 'Did the board have to cut?'),
                Field::yesNo('mains_lost', 'Mains taken away and given back in mid-charge?'),
                Field::choice('mode_after', 'Mode afterwards', $modes, $c->values("begin-$i")->string('mode')),
                Field::yesNo('fault_seen', 'Was the fault seen that it came for?'),
            ]);
            if ($c->entry("end-$i") === null) {
                break;
            }
        }

        return $steps;
    }

    /**
     * The first that no cycle was begun with; of all that were, the first.
     *
     * @param  list<string>  $of
     */
    private function untried(Course $c, string $field, array $of): ?string
    {
        $tried = array_map(fn(Entry $e): ?string => str_starts_with($e->step, 'begin-') ? $e->fields()->string($field) : null, $c->entries);

        return array_values(array_diff($of, $tried))[0] ?? ($of[0] ?? null);
    }

    /** @return list<string> */
    private function modes(Course $c): array
    {
        $said = array_map(trim(...), explode(',', $c->values('modes')->string('modes') ?? ''));

        return array_values(array_unique(array_filter($said, fn(string $m): bool => $m !== '')));
    }

    protected function against(Course $c, Step $step, Fields $values): array
    {
        if ($step->code === 'bench') {
            $v = (float) $values->float('cut_v');
            $most = $c->pack->profile()->boardHighV + ProofLimits::CUT_V;

            return $v > $most + Tiny::COARSE
                ? ['cut_v' => sprintf('A board that cuts at %.2f V protects nothing: over %.2f no trial begins.', $v, $most)]
                : [];
        }
        if (str_starts_with($step->code, 'begin-') && $values->bool('attended') === false) {
            $left = array_diff(self::GUARDS, $values->strings('guards'));

            return $left === []
                ? []
                : ['guards' => 'Nobody leaves it alone without: ' . implode(', ', $left) . '. Set it up, or stay with it.'];
        }

        return [];
    }

    public function watch(Course $c): array
    {
        return [
            sprintf(
                'A second, independent cut-off takes the mains away: any cell over %.2f V, over temperature, or the time is up.',
                $c->pack->profile()->boardHighV + ProtocolLimits::SECOND_CUT_V,
            ),
            ...Ready::warm($c, true),
        ];
    }

    public function enough(Course $c): bool
    {
        $ended = count($this->cycles($c));

        // One that was begun and not ended is under way.
        return $ended > 0 && $c->entry('begin-' . ($ended + 1)) === null;
    }

    /** @return list<Cycle> those that ended */
    public function cycles(Course $c): array
    {
        $out = [];
        for ($i = 1; $i <= self::MOST; $i++) {
            $end = $c->entry("end-$i");
            if ($end === null) {
                break;
            }
            $out[] = new Cycle($c->values("begin-$i"), $end->fields());
        }

        return $out;
    }

    public function coverage(Course $c): Coverage
    {
        return Coverage::of($this->cycles($c), $this->modes($c));
    }

    public function odds(Course $c): ChargerOdds
    {
        return ChargerOdds::of($this->cycles($c), $c->record, $c->proof);
    }

    public function outcome(Course $c): Outcome
    {
        $cycles = $this->cycles($c);
        $faults = count(array_filter($cycles, fn(Cycle $y): bool => $y->fault()));
        $covered = $this->coverage($c);

        return Outcome::of(
            false,
            // A clean trial is no acquittal: it never passes.
            $faults > 0 ? [] : ['It was not replicated, which is no acquittal.', ...$covered->left()],
            ucfirst(Trial::sentenceOf(count($cycles), $faults)),
            $faults > 0 ? [...array_map(fn(Cycle $y): string => $y->said(), array_filter($cycles, fn(Cycle $y): bool => $y->fault()))] : [],
            [['kind' => 'charger-trial', 'cycles' => array_map(fn(Cycle $y): array => $y->record(), $cycles)]],
        );
    }

    /**
     * The trial as the owner of the charger reads it.
     *
     * @return list<array{title: string, lines: list<string>}>
     */
    public function sheet(Course $c): array
    {
        $cycles = $this->cycles($c);
        $n = count($cycles);
        $bad = array_values(array_filter($cycles, fn(Cycle $y): bool => $y->fault()));
        $odds = $this->odds($c)->causes;

        return [
            [
                'title' => 'What we did',
                'lines' => [
                    sprintf(
                        'Your charger charged cells of ours of the same kind %d time%s, behind a protection that was seen to work.',
                        $n,
                        $n === 1 ? '' : 's',
                    ),
                ],
            ],
            [
                'title' => 'What happened',
                'lines' => $bad === [] ? ['Nothing that it must not do.'] : array_map(fn(Cycle $y): string => $y->said(), $bad),
            ],
            ['title' => 'What we did not try', 'lines' => $this->coverage($c)->left()],
            [
                'title' => 'What that means',
                'lines' => [
                    $bad === []
                        ? sprintf(
                            'What went wrong with you did not come back in %d charge%s. If it happens at random, it does so in ' .
                                'fewer than %.0f of a hundred charges: so few charges make us sure of that much to 95 %%, and of ' .
                                'no more. It does not clear the charger.',
                            $n,
                            $n === 1 ? '' : 's',
                            100 * (1 - ProtocolLimits::MISSED ** (1 / max(1, $n))),
                        )
                        : 'Do not use this charger again.',
                    sprintf(
                        'As we weigh it now: %s (%.0f in a hundred), then %s (%.0f).',
                        $odds[0]['title'],
                        100 * $odds[0]['share'],
                        $odds[1]['title'],
                        100 * $odds[1]['share'],
                    ),
                ],
            ],
            [
                'title' => 'What to do',
                'lines' => [
                    ...$bad === []
                        ? ['Charge where you are awake and near, on what cannot burn, and look at the mode each time you switch it on.']
                        : [],
                    'Take a charger that knows one kind of battery only, made for yours: then nothing can be set wrongly.',
                    'Swollen, hot, a smell: switch off at the wall, take it outdoors, do not charge it again, call us.',
                ],
            ],
        ];
    }
}
