<?php

declare(strict_types=1);

namespace App\StandIn;

/** An electronic load of 60 V, 30 A across the whole pack. */
final class LoadDevice extends ScpiDevice
{
    private float $amps = 0.0;

    private bool $on = false;

    public function __construct(private readonly VirtualBench $bench, private readonly string $serial = 'SL-0001') {}

    protected function identity(): string
    {
        return "Heartwood,Stand-in load,$this->serial,1.0";
    }

    protected function reset(): void
    {
        $this->amps = 0.0;
        $this->on = false;
        $this->apply();
    }

    protected function commands(): array
    {
        $set = function (array $a): null {
            $this->amps = self::number($a, 0.0, 30.0, 0.0, 'A');
            $this->apply();

            return null;
        };
        $switch = function (array $a): null {
            $this->on = self::bool($a);
            $this->apply();

            return null;
        };
        $state = fn(): string => $this->on ? '1' : '0';

        return [
            'CURRent[:LEVel]' => $set,
            'SOURce:CURRent[:LEVel]' => $set,
            'CURRent[:LEVel]?' => fn(array $a): string => self::setting($a, $this->amps, 0.0, 30.0, 0.0),
            'INPut[:STATe]' => $switch,
            'INPut[:STATe]?' => $state,
            'FUNCtion?' => fn(): string => 'CURR',
            'MEASure[:SCALar]:VOLTage[:DC]?' => fn(): string => self::real(round($this->bench->pack->tap($this->bench->series()), 3)),
            'MEASure[:SCALar]:CURRent[:DC]?' => fn(): string => self::real($this->bench->loadA),
        ];
    }

    private function apply(): void
    {
        $this->bench->tick();
        $this->bench->loadA = $this->on ? $this->amps : 0.0;
    }
}
