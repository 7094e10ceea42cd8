<?php

declare(strict_types=1);

namespace App\Instruments;

/** A meter: volts, amps, ohms, temperature. Values outside any range of its own are refused. */
final class Meter extends Scpi
{
    /** @return float|null volts, null where it shows overload */
    public function volts(?float $range = null): ?float
    {
        $v = $this->voltsRead($range);

        return $v === Answer::OVERLOAD ? null : $v;
    }

    /** @return float|null volts; `Answer::OVERLOAD` where it shows overload, which a run must know */
    public function voltsRead(?float $range = null): ?float
    {
        return self::within($this->reading('MEAS:VOLT:DC?' . ($range === null ? '' : sprintf(' %g', $range))), 1100.0, 'volts');
    }

    /** @return float|null amps, likewise */
    public function ampsRead(): ?float
    {
        return self::within($this->reading('MEAS:CURR:DC?'), 100.0, 'amps');
    }

    /** @return float|null ohms, null where it shows overload */
    public function ohms(): ?float
    {
        return self::within($this->number('MEAS:RES?'), 2e9, 'ohms');
    }

    /** @return float|null degC, null where the sensor is open */
    public function celsius(): ?float
    {
        return self::within($this->number('MEAS:TEMP?'), 2000.0, 'degC');
    }

    private static function within(?float $value, float $limit, string $unit): ?float
    {
        if ($value !== null && $value !== Answer::OVERLOAD && abs($value) > $limit) {
            throw new InstrumentFault(sprintf('It shows %g %s, which cannot be: check function and range.', $value, $unit));
        }

        return $value;
    }
}
