<?php

declare(strict_types=1);

namespace Heartwood\Core;

/** What the bench's words mean, in a sentence or two each: said on the word, wherever a screen uses it. */
final class Glossary
{
    /** Word by key => what it is called, what it means, the handbook section that says more. */
    public const WORDS = [
        'group' => [
            'group',
            'Cells side by side that share both ends, and so one voltage. A pack is groups in a row.',
            'Identity of a pack',
        ],
        'tap' => [
            'tap',
            'A place between two groups that a probe reaches: T0 is the minus end, the last tap the plus end.',
            'Readings as a network',
        ],
        'rest' => [
            'at rest',
            'Nothing charged and nothing drawn, long enough that the voltage has settled. Only then does it tell how full a group is.',
            'Rest spread',
        ],
        'spread' => [
            'rest spread',
            'The highest group less the lowest, at rest. Millivolts are little where the curve is steep, and much where it is flat.',
            'Rest spread',
        ],
        'sigma' => [
            '1 sigma',
            'How far the figure may lie off, two times out of three. Twice that far: nineteen times out of twenty.',
            'Readings as a network',
        ],
        'off-reading' => [
            'a reading that is off',
            'Readings that overlap check each other. One that does not fit the others is asked for again, not averaged in.',
            'Readings as a network',
        ],
        'imbalance' => [
            'imbalance',
            'Groups that hold about the same and stand at different charge. The pack stops at its fullest and at its emptiest group.',
            'Balancing',
        ],
        'leak' => [
            'leak',
            'Charge that a group loses by itself. It is a slope: two sets at rest, days apart, show it. One set never does.',
            'Self-discharge',
        ],
        'joint' => [
            'joint',
            'Weld, strip or screw between groups. It shows under current alone, and turns over when the current does.',
            'Joint or cell resistance from current',
        ],
        'sense' => [
            'sense lead',
            'The thin wire by which the board reads a tap. Broken, it shows one group too high and its neighbour as much too low.',
            'The fault catalogue',
        ],
        'board' => [
            'board',
            'The protection board (BMS): it watches each group and cuts charge or output. Cutting may be its job well done.',
            'The fault catalogue',
        ],
        'plateau' => [
            'plateau',
            'Where the rest curve lies flat, as phosphate does from a fifth to nine tenths: there volts tell next to nothing of charge.',
            'Chemistry profiles',
        ],
        'floor' => [
            'floor',
            'Below it a group is charged by nobody but slowly, watched, in steps, with its rules; some not at all.',
            'Recovery of a deep-discharged group',
        ],
        'c-rate' => [
            'C/10',
            'A current as a part of the capacity: C/10 of a 10 Ah group is 1 A, and fills it in about ten hours.',
            'Recovery of a deep-discharged group',
        ],
        'taper' => [
            'taper',
            'The end of a charge: volts held, amps falling by themselves. Full is when the amps are small, not when the volts are reached.',
            'Balancing',
        ],
        'window' => [
            'charge window',
            'What of the capacity can be used: from where the first group is full to where the first is empty.',
            'What the customer sees: the usable window',
        ],
        'hold-test' => [
            'hold test',
            'Left alone for a day or more after a charge: what it has lost then tells whether the recovery holds.',
            'Recovery of a deep-discharged group',
        ],
        'sureness' => [
            'sureness',
            'How likely it is, on what was measured so far. At 80 % it is right four times out of five; the fifth is why one checks.',
            'Verdicts',
        ],
        'evidence' => [
            'weight of evidence',
            'How much a line speaks for or against. "Strongly" is ten times as likely with it as without; weights are added up.',
            'Verdicts',
        ],
        'prior' => [
            'before any reading',
            'How often such packs have this fault. The shop\'s own closed jobs, whose cause was found, move it.',
            'Verdicts',
        ],
        'next-test' => [
            'what to measure next',
            'The test that tells most for its minutes, reckoned from what each outcome would do to the verdict.',
            'Verdicts',
        ],
        'basis' => [
            'measured, derived, assumed',
            '● measured: read off an instrument. ◐ derived from readings. ○ assumed: nobody has said otherwise. ◇ predicted. ◌ reported.',
            'Verdicts',
        ],
        'revision' => [
            'revision',
            'The pack as it is built now. Work on cells, joints or board opens the next; older readings no longer speak for it.',
            'Repair options and what they bring',
        ],
        'donor' => [
            'donor',
            'A pack that is not worth its repair and gives its good cells or its board to others.',
            'Repair options and what they bring',
        ],
        'join' => [
            'join rule',
            'Cells that are put side by side push current into each other. How far apart they may stand follows from their resistance.',
            'Joining cells or packs in parallel',
        ],
        'grade' => [
            'grade',
            'What is left of a cell against its rating, with its resistance: what it may still be used for.',
            'Grading and matching',
        ],
        'budget' => [
            'current budget',
            'What each part of the path may carry against what the device draws. The weakest part is the pack\'s limit.',
            'Current budget',
        ],
        'isolation' => [
            'isolated from earth',
            'An output that has no path to earth. Two that have one, on one pack, are a short through it.',
            'Gates on work',
        ],
        'quarantine' => [
            'quarantine',
            'Outside, apart, on something that does not burn, watched. Nothing is measured, charged or opened until a senior says why.',
            'Triage',
        ],
        'proof' => [
            'proof',
            'What the finished pack must show before it leaves: measured anew, on this revision, not taken over from before.',
            'Acceptance (proof)',
        ],
        'wake' => [
            'wake',
            'A board that has shut itself off is brought back by its own charger or button first; never by force.',
            'The fault catalogue',
        ],
        'stretch' => [
            'capacity test',
            'A discharge from full to the cut-off, at a known current, not broken off: only such a one counts.',
            'Test logs of cells and groups',
        ],
        'brier' => [
            'Brier score',
            'The squared distance between how sure somebody said they were and what it was, over all that was said or true: 0 is best, ' .
            'and being sure of the wrong thing costs most.',
            'Trainer',
        ],
        'stated' => [
            'stated sureness',
            'Of all that was said with 80 in a hundred, eight in ten are to be so. Off means by how much the two lie apart on the mean.',
            'Trainer',
        ],
    ];
}
