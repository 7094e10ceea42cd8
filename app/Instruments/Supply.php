<?php

declare(strict_types=1);

namespace App\Instruments;

/**
 * A bench supply that is driven only when it switches off by itself once nobody renews it. The proof is made at
 * "identify", with nothing on its output: set a second, switch on at no volts and no amps, wait, look.
 */
final class Supply extends Scpi
{
    /** Ways in which supplies say it: seconds until the output goes off unless said again. */
    private const TIMERS = ['OUTP:TIM', 'OUTP:WATC:DEL', 'SYST:WATC:DEL', 'OUTP:PROT:WDOG:DEL', 'SYST:COMM:WATC'];

    /** Seconds without renewal after which the output must be off. */
    public const TIMER_S = 3.0;

    /** @return string|null the command that renews, proved; null when the supply stays on */
    public function provesItself(): ?string
    {
        foreach (self::TIMERS as $timer) {
            try {
                $this->line->say('*CLS');
                $this->command("$timer 1");
                $this->command('APPL 0,0');
            } catch (InstrumentFault) {
                continue;
            }
            $this->command('OUTP ON');
            $was = $this->number('OUTP?');
            usleep(1_500_000);
            $is = $this->number('OUTP?');
            $this->command('OUTP OFF');
            $this->command(sprintf('%s %g', $timer, self::TIMER_S));
            if ($was === 1.0 && $is === 0.0) {
                return $timer;
            }
        }

        return null;
    }

    /** Limits first, protection just over them, the timer running; then the output. */
    public function drive(string $timer, float $volts, float $amps): void
    {
        $this->command(sprintf('%s %g', $timer, self::TIMER_S));
        $this->command(sprintf('APPL %.4F,%.4F', $volts, $amps));
        $this->command(sprintf('VOLT:PROT %.3F', $volts + 0.10));
        $this->command('OUTP ON');
    }

    public function renew(string $timer): void
    {
        $this->line->say(sprintf('%s %g', $timer, self::TIMER_S));
    }

    public function off(): void
    {
        $this->line->say('OUTP OFF');
    }

    public function isOn(): bool
    {
        return $this->number('OUTP?') === 1.0;
    }

    public function amps(): ?float
    {
        return $this->number('MEAS:CURR?');
    }

    public function volts(): ?float
    {
        return $this->number('MEAS:VOLT?');
    }
}
