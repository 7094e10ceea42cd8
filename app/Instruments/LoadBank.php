<?php

declare(strict_types=1);

namespace App\Instruments;

/** An electronic load: a current, on or off, and what it sees. */
final class LoadBank extends Scpi
{
    public function draw(float $amps): void
    {
        $this->command(sprintf('CURR %.4F', $amps));
        $this->command('INP ON');
    }

    public function off(): void
    {
        $this->command('INP OFF');
    }

    public function isOn(): bool
    {
        return $this->yes('INP?');
    }

    public function volts(): ?float
    {
        return $this->number('MEAS:VOLT?');
    }

    public function amps(): ?float
    {
        return $this->number('MEAS:CURR?');
    }
}
