<?php

declare(strict_types=1);

namespace App\Instruments;

/** A meter: volts, ohms, temperature; null where it shows overload. Values outside any range of its own are refused. */
final class Meter extends Scpi
{
    /** @return float|null volts */
    public function volts(?float $range = null): ?float
    {
        return self::within($this->number('MEAS:VOLT:DC?'.($range === null ? '' : sprintf(' %g', $range))), 1100.0, 'volts');
    }

    /** @return float|null ohms */
    public function ohms(): ?float
    {
        return self::within($this->number('MEAS:RES?'), 2e9, 'ohms');
    }

    /** @return float|null degC */
    public function celsius(): ?float
    {
        return self::within($this->number('MEAS:TEMP?'), 2000.0, 'degC');
    }

    private static function within(?float $value, float $limit, string $unit): ?float
    {
        if ($value !== null && abs($value) > $limit) {
            throw new InstrumentFault(sprintf('It shows %g %s, which cannot be: check function and range.', $value, $unit));
        }

        return $value;
    }
}
