<?php

declare(strict_types=1);

use App\StandIn\BoardDevice;
use App\StandIn\HandPanel;
use App\StandIn\LoadDevice;
use App\StandIn\MeterDevice;
use App\StandIn\SupplyDevice;
use App\StandIn\VirtualBench;

/** A bench on a clock that stands still until it is moved. */
final class StillBench
{
    public float $now = 1000.0;

    public VirtualBench $bench;

    public function __construct()
    {
        mt_srand(4);
        $this->bench = new VirtualBench(fn(): float => $this->now);
    }

    public function pass(float $seconds): void
    {
        for ($t = 0.0; $t < $seconds; $t += 0.05) {
            $this->now += 0.05;
            $this->bench->tick();
        }
    }
}

it('answers the common queries of the standard', function (): void {
    $m = new MeterDevice((new StillBench())->bench);
    expect($m->message('*IDN?'))
        ->toBe('Heartwood,Stand-in meter,SM-0001,1.0')
        ->and($m->message('*OPC?'))
        ->toBe('1')
        ->and($m->message('*TST?'))
        ->toBe('0')
        ->and($m->message('SYST:VERS?'))
        ->toBe('1999.0')
        ->and($m->message('*RST'))
        ->toBeNull()
        ->and($m->message('  '))
        ->toBeNull()
        ->and($m->message('*ESR?'))
        ->toBe('128')
        ->and($m->message('*ESR?'))
        ->toBe('0');
});

dataset('malformed', [
    'unknown header' => ['FOO:BAR', -113],
    'unknown common command' => ['*FOO?', -113],
    'no parameter' => ['VOLT', -109],
    'not a number' => ['VOLT twelve', -104],
    'wrong unit' => ['VOLT 5 A', -131],
    'out of range' => ['VOLT 99', -222],
    'below range' => ['CURR -1', -222],
    'one parameter too many' => ['VOLT 1,2', -108],
    'parameter to a query' => ['*IDN? 1', -108],
    'not a switch' => ['OUTP MAYBE', -224],
    'a character that is none' => ["VOLT 5\x01", -101],
    'a mnemonic of thirteen letters' => ['VOLTAGELEVELS 5', -112],
    'a mnemonic of thousands' => [str_repeat('X', 3000) . '?', -112],
    'two numbers without a comma' => ['VOLT 4.2 4.3', -103],
    'too few of two' => ['APPL 3.7', -109],
    'the second out of range' => ['APPL 3.7,99', -222],
    'parameter to a query of the system' => ['SYST:VERS? 5', -108],
]);

it('puts the standard\'s number on the queue for what it cannot do', function (string $message, int $number): void {
    $s = new SupplyDevice((new StillBench())->bench);
    $s->message('*CLS');
    expect($s->message($message))
        ->toBeNull()
        ->and($s->message('SYST:ERR:COUN?'))
        ->toBe('1')
        ->and($s->message('SYSTem:ERRor:NEXT?'))
        ->toStartWith("$number,")
        ->and($s->message('SYST:ERR?'))
        ->toBe('0,"No error"')
        ->and((int) $s->message('*ESR?') & ($number > -200 ? 32 : 16))
        ->toBeGreaterThan(0);
})->with('malformed');

it('leaves everything as it was after a message that it refuses, and answers in 255 characters', function (): void {
    $s = new SupplyDevice((new StillBench())->bench);
    $s->message('*CLS;APPL 4.1,0.5');
    foreach (['APPL 3.7,99', 'APPL 61,0.2', 'VOLT -1', 'CURR twelve', str_repeat('Z', 900)] as $wrong) {
        $s->message($wrong);
        expect($s->message('APPL?'))
            ->toBe('+4.10000000E+0,+5.00000000E-1')
            ->and(strlen((string) $s->message('SYST:ERR?')))
            ->toBeLessThan(256);
    }
    // What comes after a command error in the same message is not carried out; after an execution error it is.
    $s->message('FOO;VOLT 1');
    expect($s->message('VOLT?'))->toBe('+4.10000000E+0');
    $s->message('VOLT 99;CURR 1');
    expect($s->message('CURR?'))->toBe('+1.00000000E+0');
});

it('reads long and short forms, compound messages and units', function (): void {
    $s = new SupplyDevice((new StillBench())->bench);
    expect($s->message('SOURce:VOLTage:LEVel 4.2 V;:CURRent 500mA;:VOLT?;CURR?'))
        ->toBe('+4.20000000E+0;+5.00000000E-1')
        ->and($s->message('sour:volt?'))
        ->toBe('+4.20000000E+0')
        ->and($s->message('VOLT MAX;VOLT?'))
        ->toBe('+6.00000000E+1')
        ->and($s->message('APPL 4.1,0.3;VOLT?;CURR?'))
        ->toBe('+4.10000000E+0;+3.00000000E-1');
});

it('keeps the last twenty errors and says that there were more', function (): void {
    $s = new SupplyDevice((new StillBench())->bench);
    for ($i = 0; $i < 30; $i++) {
        $s->message('NONSENSE');
    }
    expect($s->message('SYST:ERR:COUN?'))->toBe('20');
    for ($i = 0; $i < 19; $i++) {
        expect($s->message('SYST:ERR?'))->toStartWith('-113');
    }
    expect($s->message('SYST:ERR?'))->toStartWith('-350');
});

it('switches the output off by itself when nobody renews the timer, and keeps it on while somebody does', function (): void {
    $still = new StillBench();
    $s = new SupplyDevice($still->bench);
    $still->bench->clip = 3;
    $s->message('APPL 4.2,1;:OUTP:TIM 3;:OUTP ON');
    for ($i = 0; $i < 10; $i++) {
        $still->pass(2.0);
        $s->message('OUTP:TIM 3');
        $s->tick();
    }
    expect($s->message('OUTP?'))->toBe('1');
    $still->pass(3.1);
    $s->tick();
    expect($s->message('OUTP?'))->toBe('0')->and(array_column($still->bench->outputs, 'why'))->toContain('output timer ran out');
});

it('trips on over-voltage and stays off until cleared', function (): void {
    $still = new StillBench();
    $s = new SupplyDevice($still->bench);
    $still->bench->clip = 1;
    $s->message('APPL 4.2,2;:VOLT:PROT 3.0;:OUTP ON');
    $still->pass(0.1);
    $s->tick();
    expect($s->message('OUTP?'))
        ->toBe('0')
        ->and($s->message('OUTP:PROT:TRIP?'))
        ->toBe('1')
        ->and($s->message('OUTP ON'))
        ->toBeNull()
        ->and($s->message('SYST:ERR?'))
        ->toStartWith('-221');
    $s->message('VOLT:PROT 5;:OUTP:PROT:CLE;:OUTP ON');
    expect($s->message('OUTP?'))->toBe('1');
});

it('charges the group that the supply sits on, and no other', function (): void {
    $still = new StillBench();
    $s = new SupplyDevice($still->bench);
    $before = array_map(fn($g): float => $g->charge, $still->bench->pack->groups);
    $still->bench->clip = 2;
    $still->bench->scale = 60.0;
    $s->message('APPL 4.2,2;:OUTP ON');
    $still->pass(20.0);
    expect((float) $s->message('MEAS:CURR?'))
        ->toBe(2.0)
        ->and($still->bench->pack->groups[1]->charge - $before[1])
        ->toEqualWithDelta((2.0 * 1200) / 3600 / 8.0, 0.002)
        ->and($still->bench->pack->groups[0]->charge)
        ->toBe($before[0]);
});

it('settles after the probe lands, floats in the air and shows overload over its range', function (): void {
    $still = new StillBench();
    $m = new MeterDevice($still->bench);
    $still->bench->touch(0, 2);
    $still->now += 0.02;
    $landing = abs((float) $m->message('MEAS:VOLT:DC?') - $still->bench->pack->tap(2));
    $still->pass(1.2);
    $settled = abs((float) $m->message('READ?') - $still->bench->pack->tap(2));
    expect($landing)
        ->toBeGreaterThan(0.1)
        ->and($settled)
        ->toBeLessThan(0.005)
        ->and($m->message('MEAS:VOLT:DC? 5'))
        ->toStartWith('9.9')
        ->and($m->message('MEAS:RES?'))
        ->toStartWith('9.9');
    $still->bench->lift();
    expect(abs((float) $m->message('MEAS:VOLT:DC?')))->toBeLessThan(0.4);
});

it('slips once where it is told to, and lands right the next time', function (): void {
    $still = new StillBench();
    $hand = new HandPanel($still->bench);
    $hand->message('{"do":"follow","on":true}');
    $hand->message('{"do":"slip","tap":4}');
    $hand->message('{"do":"prompt","from":0,"to":4}');
    $still->pass(1.0);
    expect($still->bench->touch)->toBe(['from' => 0, 'to' => 3]);
    $hand->message('{"do":"prompt","from":0,"to":4}');
    $still->pass(1.0);
    expect($still->bench->touch)
        ->toBe(['from' => 0, 'to' => 4])
        ->and($hand->message('{"do":"dance"}'))
        ->toContain('not known')
        ->and($hand->message('no json'))
        ->toContain('error');
});

it('goes where it was told to a moment before it was to follow, and nowhere that an earlier pack was probed at', function (): void {
    $still = new StillBench();
    $hand = new HandPanel($still->bench);
    $hand->message('{"do":"prompt","from":0,"to":3}');
    $still->pass(1.0);
    expect($still->bench->touch)->toBeNull();
    $hand->message('{"do":"follow","on":true}');
    $still->pass(1.0);
    expect($still->bench->touch)->toBe(['from' => 0, 'to' => 3]);
    $hand->message('{"do":"follow","on":false}');
    $hand->message('{"do":"pack","groups":[{"soc":0.6},{"soc":0.6}]}');
    $hand->message('{"do":"follow","on":true}');
    $still->pass(1.0);
    expect($still->bench->touch)->toBeNull();
});

it('draws the load from every group and reports like a board that minds its limits', function (): void {
    $still = new StillBench();
    $still->bench->load([['soc' => 0.6], ['v' => 2.5], ['soc' => 0.6]]);
    $l = new LoadDevice($still->bench);
    $l->message('CURR 3;INP ON');
    $still->pass(0.2);
    expect($l->message('INP?'))
        ->toBe('1')
        ->and((float) $l->message('MEAS:CURR?'))
        ->toBe(3.0)
        ->and($still->bench->pack->amps(1))
        ->toBe(-3.0);
    $board = new BoardDevice($still->bench);
    expect($board->message('report'))
        ->toContain('group 3 ')
        ->toContain('flags under-voltage discharge-off')
        ->toEndWith('end')
        ->and($board->message('hello'))
        ->toStartWith('error');
});

it('keeps to the standard where it is easily missed', function (): void {
    $s = new SupplyDevice((new StillBench())->bench);
    $s->message('*CLS;*SRE 4');
    expect($s->message('*STB?'))
        ->toBe('0')
        ->and($s->message('VOLT? MAX'))
        ->toBe('+6.00000000E+1')
        ->and($s->message('CURR? MIN'))
        ->toBe('+0.00000000E+0')
        ->and($s->message('VOLT? 5'))
        ->toBeNull();
    // An error waits and is enabled: bit 2, and the master summary in bit 6.
    expect($s->message('*STB?'))
        ->toBe('68')
        ->and($s->message('SYST:ERR?'))
        ->toStartWith('-224')
        ->and($s->message('*SRE 0;*STB?'))
        ->toBe('0');
    foreach (['OPER', 'QUES'] as $register) {
        expect($s->message("STAT:$register?"))
            ->toBe('0')
            ->and($s->message("STAT:$register:COND?"))
            ->toBe('0')
            ->and($s->message("STAT:$register:ENAB 16;ENAB?"))
            ->toBe('16');
    }
    expect($s->message('STAT:PRES;:STAT:OPER:ENAB?'))
        ->toBe('0')
        ->and($s->message('*SAV 1'))
        ->toBeNull()
        ->and($s->message('SYST:ERR?'))
        ->toStartWith('-113')
        ->and($s->message('*RCL'))
        ->toBeNull()
        ->and($s->message('SYST:ERR?'))
        ->toStartWith('-113');
    // Below a semicolon the path goes on; only a colon begins at the root.
    expect($s->message('VOLT:PROT 9;LEV 4'))
        ->toBeNull()
        ->and($s->message('SYST:ERR?;:VOLT?'))
        ->toBe('0,"No error";+4.00000000E+0')
        ->and($s->message('VOLT:PROT 9;OUTP?'))
        ->toBeNull()
        ->and($s->message('SYST:ERR?'))
        ->toStartWith('-113')
        ->and($s->message('VOLT:PROT 9;:OUTP?'))
        ->toBe('0');
});

it('picks the range that holds what is expected', function (): void {
    $still = new StillBench();
    $m = new MeterDevice($still->bench);
    $still->bench->touch(0, 10);
    $still->pass(2);
    expect($m->message('MEAS:VOLT:DC? 3'))
        ->toBe('9.90000000E+37')
        ->and((float) $m->message('MEAS:VOLT:DC? 30'))
        ->toBeGreaterThan(30.0)
        ->and($m->message('CONF?'))
        ->toBe('"VOLT 50"')
        ->and((float) $m->message('MEAS:VOLT:DC? 30,0.001'))
        ->toBeGreaterThan(30.0);
});
