<?php

declare(strict_types=1);

namespace App\Instruments;

use Heartwood\Core\Limits\RunLimits;

/**
 * A bench supply that is driven only when it switches off by itself once nobody renews it. The proof is made at
 * "identify", with nothing on its output and nothing set: 0 V, 0 A read back, a second on the timer, on, wait, look.
 */
final class Supply extends Scpi
{
    /** Ways in which supplies say it: seconds until the output goes off unless said again. */
    private const TIMERS = ['OUTP:TIM', 'OUTP:WATC:DEL', 'SYST:WATC:DEL', 'OUTP:PROT:WDOG:DEL', 'SYST:COMM:WATC'];

    /** Seconds without renewal after which the output must be off. */
    public const TIMER_S = 3.0;

    /** Over-voltage protection this far over the set voltage, V. */
    private const PROTECT_V = 0.1;

    private bool $applies = true;

    private bool $protects = true;

    /**
     * @return string|null the command that renews, proved; null when the supply stays on
     *
     * @throws InstrumentFault it would not take nothing for its set-points, or its output is not certainly off afterwards
     */
    public function provesItself(): ?string
    {
        $proved = null;
        try {
            $this->goesOff();
            foreach (self::TIMERS as $timer) {
                try {
                    $this->line->say('*CLS');
                    $this->command("$timer 1");
                } catch (InstrumentFault) {
                    continue;
                }
                $this->set(0.0, 0.0);
                [$volts, $amps] = $this->setPoints();
                if ($volts === null || $amps === null || $volts > RunLimits::SET_OVER_V || $amps > RunLimits::SET_STEP_A) {
                    throw new InstrumentFault(
                        sprintf(
                            'It was set to 0 V, 0 A and shows %s V, %s A: its output was not switched on.',
                            $volts ?? '?',
                            $amps ?? '?',
                        ),
                    );
                }
                $this->command('OUTP ON');
                $was = $this->isOn();
                usleep(1_500_000);
                $is = $this->isOn();
                $this->command(sprintf('%s %g', $timer, self::TIMER_S));
                if ($was && !$is) {
                    $this->command('OUTP ON');
                    $this->goesOff();
                    $proved = $timer;

                    break;
                }
                $this->off();
            }
        } catch (InstrumentFault $e) {
            $failed = $e;
        }
        try {
            $this->surelyOff();
        } catch (InstrumentFault $e) {
            // What is left on matters more than what went wrong before.
            throw new InstrumentFault(isset($failed) ? $failed->getMessage() . ' ' . $e->getMessage() : $e->getMessage());
        }

        return isset($failed) ? throw $failed : $proved;
    }

    /** @throws InstrumentFault it stays on when it is told to go off */
    private function goesOff(): void
    {
        $this->off();
        if ($this->isOn()) {
            throw new InstrumentFault('Its output does not go off when told.');
        }
    }

    /** Set-points alone: the current goes down first and up last. The output stays as it is. */
    public function set(float $volts, float $amps): void
    {
        if ($this->applies) {
            try {
                $this->command(sprintf('APPL %.4F,%.4F', $volts, $amps));

                return;
            } catch (InstrumentFault $e) {
                // Not known is one thing, not allowed another: a value out of its range is out of its range in any words.
                if (preg_match('/refused .*: *-1\d\d/', $e->getMessage()) !== 1) {
                    throw $e;
                }
                $this->applies = false;
            }
        }
        $this->command(sprintf('CURR %.4F', $amps));
        $this->command(sprintf('VOLT %.4F', $volts));
    }

    /** Set-points on a supply of coarse steps: what it rounds up is set a step lower. */
    public function setNoMoreThan(float $volts, float $amps): void
    {
        $this->set($volts, $amps);
        [$v, $a] = $this->setPoints();
        if (($v !== null && $v > $volts + 1e-6 && $v < $volts + 0.1) || ($a !== null && $a > $amps + 1e-6 && $a < $amps + 0.1)) {
            foreach ([1000, 100, 20, 10] as $steps) {
                $this->set(floor($volts * $steps + 1e-6) / $steps, floor($amps * $steps + 1e-6) / $steps);
                [$v, $a] = $this->setPoints();
                if ($v !== null && $v <= $volts + 1e-6 && $a !== null && $a <= $amps + 1e-6) {
                    return;
                }
            }
        }
    }

    /** @return array{float|null, float|null} volts and amps as the supply shows them set; null where it cannot be asked */
    public function setPoints(): array
    {
        return [$this->maybe('VOLT?'), $this->maybe('CURR?')];
    }

    /** @return array{max_v: float|null, max_a: float|null} the most that it can be set to, where it says */
    public function most(): array
    {
        return ['max_v' => $this->maybe('VOLT? MAX'), 'max_a' => $this->maybe('CURR? MAX')];
    }

    /** Its own protection just over the set voltage, where it has one. */
    public function protect(float $volts): void
    {
        if ($this->protects) {
            try {
                $this->command(sprintf('VOLT:PROT %.3F', $volts + self::PROTECT_V));
            } catch (InstrumentFault $e) {
                if (!str_contains($e->getMessage(), 'refused')) {
                    throw $e;
                }
                $this->protects = false;
            }
        }
    }

    public function on(string $timer): void
    {
        $this->command(sprintf('%s %g', $timer, self::TIMER_S));
        $this->command('OUTP ON');
    }

    public function renew(string $timer): void
    {
        $this->line->say(sprintf('%s %g', $timer, self::TIMER_S));
    }

    public function off(): void
    {
        $this->command('OUTP OFF');
    }

    public function isOn(): bool
    {
        return $this->yes('OUTP?');
    }

    public function amps(): ?float
    {
        return $this->reading('MEAS:CURR?');
    }

    public function volts(): ?float
    {
        return $this->reading('MEAS:VOLT?');
    }

    private function maybe(string $question): ?float
    {
        try {
            return $this->number($question);
        } catch (InstrumentFault) {
            return null;
        }
    }

    /** @throws InstrumentFault */
    private function surelyOff(): void
    {
        $why = '';
        foreach ([0, 0.15, 0.15, self::TIMER_S + 0.3] as $wait) {
            try {
                // The last time its own timer has had its time too.
                usleep((int) (1e6 * $wait));
                $this->line->say('OUTP OFF');
                if (!$this->isOn()) {
                    return;
                }
                $why = 'it says that its output is on';
            } catch (InstrumentFault $e) {
                $why = $e->getMessage();
                $this->line->close();
            }
        }
        throw new InstrumentFault("Its output could not be proved off ($why): switch it off by hand.");
    }
}
