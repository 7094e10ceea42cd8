<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

use Heartwood\Core\Diagnosis\Evidence;
use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\NextTest;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Record\Place;

/**
 * Half and block readings: which stretch holds the deviation, and how much; the probe descends into the odd part,
 * halving it (handbook "Verdicts": a reading of the whole is evidence).
 */
final readonly class Blocks
{
    /** Under this an odd group is not empty but reversed. */
    private const REVERSED_V = -0.05;

    /** How sure a stretch that stands off the others is to hold the fault (assumed: the readings themselves may be off). */
    private const SURE = 0.9;

    /** Volts a group by which sound stretches may differ, and sigmas of the reading beyond which one stands off. */
    private const APART_V = 0.03;

    private const SIGMAS = 4.0;

    /** Share of a group's voltage that must be missing for it to be dead and not only low. */
    private const GONE = 0.85;

    /**
     * @var list<array{from: int, to: int, volts: float, sigma: float, off: float, typical: float}> stretches that stand off, the
     * oddest first
     */
    public array $odd;

    public function __construct(private PackEvidence $evidence)
    {
        $spans = $evidence->rest->spans ?? [];
        $per = array_map(fn(array $s): float => $s['volts'] / ($s['to'] - $s['from']), $spans);
        foreach ($evidence->groups as $e) {
            if ($e->restV !== null) {
                $per[] = $e->restV;
            }
        }
        $odd = [];
        if (count($per) >= 2) {
            // Of two stretches, the fuller one is the sound one.
            $typical = count($per) === 2 ? max($per) : Robust::median($per);
            foreach ($spans as $s) {
                $width = $s['to'] - $s['from'];
                $off = $s['volts'] - $width * $typical;
                if (abs($off) > max(self::APART_V * $width, self::SIGMAS * $s['sigma'])) {
                    $odd[] = $s + ['off' => $off, 'typical' => $typical];
                }
            }
        }
        usort($odd, fn(array $a, array $b): int => abs($b['off']) <=> abs($a['off']));
        $this->odd = $odd;
    }

    /** @return list<Finding> what one of the groups of an odd stretch is, shared among them */
    public function findings(): array
    {
        $out = [];
        foreach ($this->odd as $s) {
            $width = $s['to'] - $s['from'];
            $v = $s['typical'] + $s['off'];
            $code = match (true) {
                $s['off'] > 0 => 'group.overcharged',
                $v < self::REVERSED_V => 'group.reversed',
                -$s['off'] > self::GONE * $s['typical'] => 'group.dead',
                $v < $this->evidence->record->pack->lowCutV() => 'group.deep-discharged',
                default => 'group.undercharged',
            };
            $fault = Faults::of($code);
            for ($k = $s['from'] + 1; $k <= $s['to']; $k++) {
                $out[] = new Finding($code, $fault->words()->titleAt($k), Place::group($k), self::SURE / $width, $fault->severity(), [
                    new Evidence($this->sentence($s), 10 * log10(self::SURE / $width / (1 - self::SURE / $width)), 'derived'),
                ]);
            }
        }

        return $out;
    }

    /** @param  array{from: int, to: int, volts: float, off: float}  $s */
    private function sentence(array $s): string
    {
        return sprintf(
            'T%d to T%d reads %.2f V, %.2f V %s than its like: one of groups %d to %d',
            $s['from'],
            $s['to'],
            $s['volts'],
            abs($s['off']),
            $s['off'] < 0 ? 'less' : 'more',
            $s['from'] + 1,
            $s['to'],
        );
    }

    /** @return list<NextTest> one reading that halves the odd stretch */
    public function tests(): array
    {
        if ($this->odd === []) {
            return [];
        }
        $s = $this->odd[0];
        $middle = intdiv($s['from'] + $s['to'], 2);
        $across = $s['to'] - $s['from'] === 2;

        return [
            new NextTest(
                $across ? TestKind::GroupReading : TestKind::HalfString,
                $across ? Place::group($s['from'] + 1) : Place::pack(),
                sprintf('%s. Read T%d to T%d: half of it.', $this->sentence($s), $s['from'], max($middle, $s['from'] + 1)),
                1,
                1.0 + log($s['to'] - $s['from'], 2),
            ),
        ];
    }
}
