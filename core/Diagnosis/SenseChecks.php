<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Place;

/** The board's own readings beside the meter's, and the pin staircase (handbook "Protection, path, sensing"). */
final readonly class SenseChecks
{
    /** Sigmas of the meter within which a report is the same. */
    private const ALIKE_SIGMAS = 3.0;

    /** 1 sigma of a board's figure for one group, volts (assumed). */
    private const BOARD_SIGMA_V = 0.005;

    /**
     * How much better a report must fit when it is moved by a place, as the difference of two sums of squares: twice the logarithm of
     * a million.
     */
    private const CLEARLY_MOVED = 27.6;

    private const DIFFERS_V = 0.06;

    /** Volts within which a board's figure is its neighbour's. */
    private const ALIKE_V = 0.02;

    public function __construct(private JobRecord $record, private PackEvidence $evidence) {}

    /** @return list<Finding> */
    public function findings(): array
    {
        return [...$this->report(), ...$this->pins()];
    }

    /** @return list<Finding> */
    private function report(): array
    {
        $board = $this->evidence->boardRest;
        $meter = $this->evidence->restFromBoard ? null : $this->evidence->rest;
        if ($board === null || $meter === null) {
            return [];
        }
        $difference = [];
        foreach ($board->read() as $g) {
            $v = $meter->group($g->group)->volts;
            if ($v !== null) {
                $difference[$g->group] = (float) $g->volts - $v;
            }
        }
        $off = array_filter($difference, fn(float $d): bool => abs($d) > self::DIFFERS_V);
        if ($this->shifted($difference)) {
            return [
                new Finding('sense.shifted', 'The sense leads sit one place off', Place::pack(), 0.97, Severity::Stop, [
                    new Evidence('the board reports each group\'s neighbour', 14.0, 'reported'),
                ]),
            ];
        }
        $out = [];
        $done = [];
        foreach ($off as $k => $d) {
            if (isset($done[$k])) {
                continue;
            }
            $next = $off[$k + 1] ?? null;
            if ($next !== null && $d * $next < 0) {
                $done[$k] = $done[$k + 1] = true;
                $tap = $k;
            } else {
                $tap = $k === 1 ? 0 : ($k === count($difference) ? $k : $k - 1);
                $done[$k] = true;
            }
            $out[] = new Finding(
                'sense.open',
                "The board's sense lead at tap $tap is broken or loose",
                Place::tap($tap),
                0.97,
                Severity::Fix,
                [
                    new Evidence(
                        sprintf(
                            'the board says %.2f V for group %d, the meter across it %.3f V',
                            (float) $board->group($k)->volts,
                            $k,
                            (float) $meter->group($k)->volts,
                        ),
                        16.0,
                        'reported',
                    ),
                ],
            );
        }

        return $out;
    }

    /** @param  array<int, float>  $difference by group */
    private function shifted(array $difference): bool
    {
        $board = $this->evidence->boardRest;
        $meter = $this->evidence->rest;
        $n = count($difference);
        if ($board === null || $meter === null || $n < 4) {
            return false;
        }
        // As it stands, and moved by one place: how far is the report off, in its own sigmas?
        $misfit = function (int $by) use ($board, $meter, $n): array {
            $fits = 0;
            $sum = 0.0;
            for ($k = max(1, 1 - $by); $k <= min($n, $n - $by); $k++) {
                $own = $meter->group($k + $by);
                $d = (float) $board->group($k)->volts - (float) $own->volts;
                $sum += ($d / hypot(self::BOARD_SIGMA_V, (float) $own->sigmaV)) ** 2;
                $fits += abs($d) < max(self::ALIKE_V, self::ALIKE_SIGMAS * (float) $own->sigmaV) ? 1 : 0;
            }

            return [$sum, $fits];
        };
        [$as] = $misfit(0);
        foreach ([1, -1] as $by) {
            [$moved, $fits] = $misfit($by);
            if ($fits === $n - 1 && $as - $moved > self::CLEARLY_MOVED) {
                return true;
            }
        }

        return false;
    }

    /** @return list<Finding> */
    private function pins(): array
    {
        $tests = $this->record->currentTests('pin-check');
        if ($tests === []) {
            return [];
        }
        $last = $tests[count($tests) - 1]->data;
        $pins = $last->numbers('pins_v');
        $n = $this->record->pack->series + 1;
        $stair = [0.0];
        $stood = $this->evidence->standingNear($last->string('at'));
        $known = array_values(array_filter($stood, fn(?float $v): bool => $v !== null));
        $middle = $known === [] ? $this->record->pack->profile()->nominalV : Robust::median($known);
        foreach ($stood as $v) {
            $stair[] = $stair[count($stair) - 1] + ($v ?? $middle);
        }
        $verdict = PinStaircase::classify($pins, array_slice($stair, 0, $n), $middle);

        return match ($verdict['kind']) {
            'right' => [],
            'missing' => array_map(
                fn(int $tap): Finding => new Finding(
                    'sense.open',
                    "Pin of tap $tap carries nothing",
                    Place::tap($tap),
                    0.93,
                    Severity::Fix,
                    [new Evidence($verdict['text'], 12.0)],
                ),
                $verdict['taps'],
            ),
            default => [
                new Finding('sense.shifted', 'The sense plug is wired wrong', Place::pack(), 0.98, Severity::Stop, [
                    new Evidence($verdict['text'], 18.0),
                ]),
            ],
        };
    }
}
