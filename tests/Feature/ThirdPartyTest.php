<?php

declare(strict_types=1);

use Tests\Feature\LiveBench;

/*
 * Clients that others wrote, from Debian: what they make of the stand-ins is what an instrument's own client would. A missing
 * client fails: `./heartwood test` installs them.
 */

/** @return array{string, int} what a command printed, and its exit */
function ran(string ...$command): array
{
    exec(implode(' ', array_map(escapeshellarg(...), $command)) . ' 2>&1', $out, $code);

    return [trim(implode("\n", $out)), $code];
}

it('is spoken to by the command-line client', function (): void {
    $bench = new LiveBench();
    $lxi = fn(int $port, string $say): array => ran(
        'lxi',
        'scpi',
        '--raw',
        '--address',
        '127.0.0.1',
        '--port',
        (string) $port,
        '--timeout',
        '5',
        $say,
    );
    expect($lxi($bench->meter(), '*IDN?'))
        ->toBe(["Heartwood,Stand-in meter,SM-{$bench->port},1.0", 0])
        ->and((float) $lxi($bench->meter(), 'MEAS:TEMP?')[0])
        ->toEqualWithDelta(20.0, 0.5);
    $lxi($bench->supply(), 'APPL 4.2,0.5');
    expect($lxi($bench->supply(), 'VOLT?;CURR?')[0])->toBe('+4.20000000E+0;+5.00000000E-1');
    $lxi($bench->supply(), 'VOLT 99');
    expect($lxi($bench->supply(), 'SYST:ERR?')[0])->toStartWith('-222');
});

it('is spoken to by the laboratory library', function (): void {
    $bench = new LiveBench();
    $script = tempnam(sys_get_temp_dir(), 'visa');
    file_put_contents(
        $script,
        <<<'PYTHON'
        import sys, pyvisa
        rm = pyvisa.ResourceManager('@py')
        def at(port):
            r = rm.open_resource(f'TCPIP::127.0.0.1::{port}::SOCKET')
            r.read_termination = r.write_termination = '\n'
            r.timeout = 5000
            return r
        meter, supply = at(int(sys.argv[1])), at(int(sys.argv[1]) + 1)
        print(meter.query('*IDN?'))
        print(meter.query('*OPC?'))
        print(supply.query('*IDN?'))
        supply.write('*CLS;APPL 3.9,0.25')
        print(supply.query_ascii_values('APPL?'))
        print(supply.query_ascii_values('VOLT? MAX'))
        supply.write('FOO:BAR')
        print(supply.query('SYST:ERR?'))
        print(supply.query('SYST:ERR?'))
        print(supply.query('STAT:OPER?;:STAT:QUES:COND?'))
        print(abs(meter.query_ascii_values('MEAS:TEMP?')[0] - 20) < 0.5)
        PYTHON
        ,
    );
    [$out, $code] = ran('python3', $script, (string) $bench->port);
    unlink($script);
    expect($code)
        ->toBe(0, $out)
        ->and(explode("\n", $out))
        ->toBe([
            "Heartwood,Stand-in meter,SM-{$bench->port},1.0",
            '1',
            "Heartwood,Stand-in supply,SS-{$bench->port},1.0",
            '[3.9, 0.25]',
            '[60.0]',
            '-113,"Undefined header;FOO:BAR"',
            '0,"No error"',
            '0;0',
            'True',
        ]);
});
