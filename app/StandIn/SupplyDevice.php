<?php

declare(strict_types=1);

namespace App\StandIn;

/** A bench supply of 60 V, 10 A with over-voltage and over-current protection and an output timer that must be renewed. */
final class SupplyDevice extends ScpiDevice
{
    private float $volts = 0.0;

    private float $amps = 0.1;

    private float $ovp = 66.0;

    private float $ocp = 11.0;

    private float $timer = 0.0;

    private float $renewed = 0.0;

    private bool $tripped = false;

    public function __construct(private readonly VirtualBench $bench, private readonly string $serial = 'SS-0001') {}

    protected function identity(): string
    {
        return "Heartwood,Stand-in supply,$this->serial,1.0";
    }

    protected function reset(): void
    {
        $this->volts = 0.0;
        $this->amps = 0.1;
        $this->ovp = 66.0;
        $this->ocp = 11.0;
        $this->timer = 0.0;
        $this->tripped = false;
        $this->apply(false, 'reset');
    }

    /** Called by the event loop: the timer works whether anybody talks to the supply or not. */
    public function tick(): void
    {
        if ($this->bench->supplyOn) {
            if ($this->timer > 0 && $this->bench->now() - $this->renewed >= $this->timer) {
                $this->apply(false, 'output timer ran out');
            } elseif ($this->bench->supplyVolts() > $this->ovp) {
                $this->tripped = true;
                $this->apply(false, 'over-voltage protection');
            } elseif ($this->bench->supplyAmps() > $this->ocp) {
                $this->tripped = true;
                $this->apply(false, 'over-current protection');
            }
        }
    }

    /** The line to the supply was cut: nothing changes but by its own timer. */
    protected function commands(): array
    {
        $set = fn(string $field, float $max, string $unit): \Closure => function (array $a) use ($field, $max, $unit): null {
            $value = self::number($a, 0.0, $max, $max, $unit);
            $this->{$field} = $this->bench->deaf ? $this->{$field} : $value;
            $this->apply($this->bench->supplyOn, '');

            return null;
        };
        $get = fn(string $field, float $max): \Closure => fn(array $a): string => self::setting($a, $this->{$field}, 0.0, $max, $max);
        $out = [
            '[SOURce:]VOLTage' => $set('volts', 60.0, 'V'),
            '[SOURce:]CURRent' => $set('amps', 10.0, 'A'),
            '[SOURce:]VOLTage:PROTection' => $set('ovp', 66.0, 'V'),
            '[SOURce:]CURRent:PROTection' => $set('ocp', 11.0, 'A'),
            '[SOURce:]VOLTage?' => $get('volts', 60.0),
            '[SOURce:]CURRent?' => $get('amps', 10.0),
            '[SOURce:]VOLTage:PROTection?' => $get('ovp', 66.0),
            '[SOURce:]CURRent:PROTection?' => $get('ocp', 11.0),
        ];
        $commands = [];
        foreach ($out as $header => $handler) {
            $bare = str_replace('[SOURce:]', '', $header);
            foreach (["SOURce:$bare", $bare] as $h) {
                $commands[$h] = $handler;
                $query = str_ends_with($h, '?');
                $commands[rtrim($h, '?') . ':LEVel' . ($query ? '?' : '')] = $handler;
            }
        }

        return $commands + [
            'APPLy?' => self::bare(fn(): string => self::real($this->volts) . ',' . self::real($this->amps)),
            'APPLy' => function (array $a): null {
                if (count($a) !== 2) {
                    throw new ScpiError(-109);
                }
                // Both are read before either is set: a wrong second one leaves the first as it was.
                $volts = self::number([$a[0]], 0.0, 60.0, 0.0, 'V');
                $amps = self::number([$a[1]], 0.0, 10.0, 0.1, 'A');
                [$this->volts, $this->amps] = $this->bench->deaf ? [12.0, 3.0] : [$volts, $amps];
                $this->apply($this->bench->supplyOn, '');

                return null;
            },
            'OUTPut[:STATe]' => function (array $a): null {
                $on = self::bool($a);
                if ($on && $this->tripped) {
                    throw new ScpiError(-221, 'protection has tripped, clear it first');
                }
                $this->renewed = $this->bench->now();
                $this->apply($on, 'commanded');

                return null;
            },
            'OUTPut[:STATe]?' => fn(): string => $this->bench->supplyOn ? '1' : '0',
            'OUTPut:TIMer' => function (array $a): null {
                $this->timer = self::number($a, 0.0, 600.0, 0.0, 'S');
                $this->renewed = $this->bench->now();

                return null;
            },
            'OUTPut:TIMer?' => fn(): string => self::real($this->timer),
            'OUTPut:PROTection:TRIPped?' => fn(): string => $this->tripped ? '1' : '0',
            'OUTPut:PROTection:CLEar' => function (): null {
                $this->tripped = false;

                return null;
            },
            'MEASure[:SCALar]:VOLTage[:DC]?' => fn(): string => self::real(round($this->measured($this->bench->supplyVolts()), 3)),
            'MEASure[:SCALar]:CURRent[:DC]?' => fn(): string => self::real(round($this->measured($this->bench->supplyAmps()), 3)),
        ];
    }

    private function measured(float $value): float
    {
        $this->bench->tick();

        return $value;
    }

    private function apply(bool $on, string $why): void
    {
        $this->bench->tick();
        $this->bench->supplyV = $this->volts;
        $this->bench->supplyA = $this->amps;
        $this->bench->output($on, $why);
    }
}
