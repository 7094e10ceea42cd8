<?php

declare(strict_types=1);

namespace App\StandIn;

/** A bench meter of 50,000 counts: DC volts, resistance, temperature. */
final class MeterDevice extends ScpiDevice
{
    private const RANGES = [5.0, 50.0, 500.0];

    private string $function = 'VOLT';

    private ?float $range = null;

    public function __construct(private readonly VirtualBench $bench, private readonly string $serial = 'SM-0001') {}

    protected function identity(): string
    {
        return "Heartwood,Stand-in meter,$this->serial,1.0";
    }

    protected function reset(): void
    {
        $this->function = 'VOLT';
        $this->range = null;
    }

    protected function commands(): array
    {
        $configure = function (string $function) {
            return function (array $a) use ($function): null {
                $this->function = $function;
                // What is expected, and perhaps how finely: the least range that holds it (SCPI 1999, MEASure).
                $expected =
                    $a === [] || in_array(strtoupper($a[0]), ['AUTO', 'DEF', 'DEFAULT'], true)
                        ? null
                        : self::number([$a[0]], -500.0, $function === 'RES' ? 1e8 : 500.0, 5.0, $function === 'RES' ? 'OHM' : 'V');
                $this->range = $expected === null || $function !== 'VOLT' ? null : $this->fitting($expected);

                return null;
            };
        };
        $measure = fn(string $function): \Closure => function (array $a) use ($function, $configure): string {
            $configure($function)($a);

            return $this->read();
        };
        $read = function (array $a): string {
            self::none($a);

            return $this->read();
        };

        return [
            'CONFigure[:VOLTage][:DC]' => $configure('VOLT'),
            'CONFigure:RESistance' => $configure('RES'),
            'CONFigure:FRESistance' => $configure('RES'),
            'CONFigure:TEMPerature' => $configure('TEMP'),
            'CONFigure?' => fn(): string => sprintf('"%s %s"', $this->function, $this->range === null ? 'AUTO' : (string) $this->range),
            'MEASure:VOLTage[:DC]?' => $measure('VOLT'),
            'MEASure:RESistance?' => $measure('RES'),
            'MEASure:FRESistance?' => $measure('RES'),
            'MEASure:TEMPerature?' => $measure('TEMP'),
            'READ?' => $read,
            'FETCh?' => $read,
            'INITiate[:IMMediate]' => fn(): null => null,
            'ABORt' => fn(): null => null,
            'SENSe:VOLTage:DC:RANGe' => $configure('VOLT'),
            'VOLTage:DC:RANGe' => $configure('VOLT'),
            'SENSe:FUNCtion' => fn(array $a): null => $configure(
                str_contains(strtoupper($a[0] ?? ''), 'RES') ? 'RES' : (str_contains(strtoupper($a[0] ?? ''), 'TEMP') ? 'TEMP' : 'VOLT'),
            )([]),
        ];
    }

    private function read(): string
    {
        $this->bench->tick();
        if ($this->function === 'TEMP') {
            $c = $this->bench->temperature();

            return self::real($c === null ? null : round($c, 1));
        }
        if ($this->function === 'RES') {
            return self::real(null); // both probes on a live pack: overload, as any meter says
        }
        $v = $this->bench->meterV();
        $range = $this->range ?? $this->fitting($v);
        if (abs($v) > 1.1 * $range) {
            return self::real(null);
        }
        $count = $range / 50000;

        return self::real(round($v / $count) * $count);
    }

    private function fitting(float $v): float
    {
        foreach (self::RANGES as $r) {
            if (abs($v) <= $r) {
                return $r;
            }
        }

        return 500.0;
    }
}
