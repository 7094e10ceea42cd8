<?php

declare(strict_types=1);

use App\Instruments\Answer;
use App\Instruments\InstrumentFault;
use App\Instruments\Line;
use App\Instruments\Lines;
use App\Instruments\Meter;
use App\Instruments\Scpi;
use App\Instruments\Supply;
use Tests\Feature\LiveBench;

afterEach(fn() => Lines::closeAll());

/** @param  list<string>  $habits */
function habits(array $habits, ?float $v = 3.7): LiveBench
{
    $bench = new LiveBench($habits);
    $bench->hand(['do' => 'pack', 'groups' => [['v' => $v], ['v' => 3.6]], 'capacity_ah' => 8]);
    $bench->hand(['do' => 'noise', 'v' => 0]);
    $bench->hand(['do' => 'clip', 'group' => 1]);

    return $bench;
}

it('reads numbers in every dress', function (string $said, ?float $is): void {
    expect(Answer::number('MEAS:VOLT?', $said))->toBe($is);
})->with([
    ['+1.23E+00', 1.23],
    ['1.23', 1.23],
    ['.5', 0.5],
    ['-4', -4.0],
    ['3.70V', 3.7],
    ['3712 mV', 3.712],
    ['+2.0E-1 A', 0.2],
    ['21.5 C', 21.5],
    ['3.7,"extra"', 3.7],
    ['OVLD', Answer::OVERLOAD],
    ['OL', Answer::OVERLOAD],
    ['9.9E37', Answer::OVERLOAD],
    ['-9.9E37', Answer::OVERLOAD],
    ['+INF', Answer::OVERLOAD],
    ['9.91E37', null],
    ['NAN', null],
    ['1e400', Answer::OVERLOAD],
]);

it('takes no word for a number, a switch or an error', function (): void {
    expect(fn() => Answer::number('MEAS:VOLT?', 'ready'))
        ->toThrow(InstrumentFault::class)
        ->and(fn() => Answer::yes('OUTP?', 'perhaps'))
        ->toThrow(InstrumentFault::class)
        ->and(fn() => Answer::error('fine'))
        ->toThrow(InstrumentFault::class)
        ->and(Answer::yes('OUTP?', 'ON'))
        ->toBeTrue()
        ->and(Answer::yes('OUTP?', '0'))
        ->toBeFalse()
        ->and(Answer::error('+0,"No error"'))
        ->toBeNull()
        ->and(Answer::error('0'))
        ->toBeNull()
        ->and(Answer::error('-113'))
        ->toBe('-113')
        ->and(Answer::error('-222,"x"'))
        ->toBe('-222,"x"');
});

it('works with what instruments do beside the standard', function (string $habit): void {
    $bench = habits([$habit]);
    $meter = new Meter('127.0.0.1', $bench->meter(), 0.6);
    $supply = new Supply('127.0.0.1', $bench->supply(), 0.6);
    expect($meter->identity()['serial'])->toBe("SM-{$bench->port}");
    for ($n = 0; $n < 3; $n++) {
        expect($meter->volts())->toEqualWithDelta(3.7, 0.002)->and($meter->celsius())->toEqualWithDelta(20.0, 0.5);
    }
    $supply->set(4.2, 0.5);
    $supply->protect(4.2);
    expect($supply->setPoints())
        ->toEqual([4.2, 0.5])
        ->and($supply->isOn())
        ->toBeFalse();
    $supply->on('OUTP:TIM');
    expect($supply->isOn())->toBeTrue();
    usleep(150_000);
    expect($supply->amps())->toEqualWithDelta(0.5, 0.01);
    $supply->off();
    expect($supply->isOn())->toBeFalse()->and($supply->errors())->toBe([]);
})->with([
    'echo',
    'prompt',
    'banner',
    'cr',
    'crlf',
    'units',
    'plain',
    'plus-errors',
    'bare-errors',
    'words',
    'no-apply',
    'no-protection',
    'one-client',
    'one-shot',
]);

it('says that an instrument refused, whatever way it says so', function (string $habit): void {
    $bench = habits([$habit]);
    expect(fn() => (new Supply('127.0.0.1', $bench->supply(), 0.6))->command('VOLT 99'))->toThrow(InstrumentFault::class, '-222');
})->with(['bare-errors', 'plus-errors', 'echo', 'one-client']);

it('sees an overload however it is said', function (string $habit): void {
    $bench = habits([$habit]);
    $bench->hand(['do' => 'lead', 'which' => 'temperature', 'off' => true]);
    expect((new Meter('127.0.0.1', $bench->meter(), 0.6))->celsius())->toBeNull();
})->with(['ovld', 'ol', 'crlf']);

it('tells overload from nothing', function (string $habit, ?float $is): void {
    $bench = habits([$habit]);
    expect((new Meter('127.0.0.1', $bench->meter(), 0.6))->voltsRead())->toBe($is);
})->with([['overload', Answer::OVERLOAD], ['inf', Answer::OVERLOAD], ['nan', null]]);

it('gives an answer one deadline, whatever drips, floods or is no text', function (string $habit, string $says): void {
    $bench = habits([$habit]);
    $meter = new Meter('127.0.0.1', $bench->meter(), 0.6);
    $from = microtime(true);
    try {
        $meter->volts();
        $this->fail('it was believed');
    } catch (InstrumentFault $e) {
        expect($e->getMessage())
            ->toContain($says)
            ->and(microtime(true) - $from)
            ->toBeLessThan(1.5);
    }
    // The next question is not answered by what was left of this one.
    $habit === 'mute' || expect((new Scpi('127.0.0.1', $bench->meter(), 0.6))->identity()['model'])->toBe('Stand-in meter');
})->with([['drip', 'does not answer'], ['mute', 'does not answer'], ['endless', 'without end'], ['binary', 'no text']]);

it('never takes a late answer for the next one', function (): void {
    $bench = habits(['late']);
    $meter = new Meter('127.0.0.1', $bench->meter(), 0.5);
    $late = 0;
    for ($n = 0; $n < 9; $n++) {
        try {
            expect($meter->volts())->toEqualWithDelta(3.7, 0.002);
        } catch (InstrumentFault) {
            $late++;
        }
        try {
            expect($meter->celsius())->toEqualWithDelta(20.0, 0.5);
        } catch (InstrumentFault) {
            $late++;
        }
    }
    expect($late)->toBe(6);
});

it('puts a question that empties a queue once only', function (): void {
    $bench = habits(['late-error']);
    $supply = new Supply('127.0.0.1', $bench->supply(), 0.5);
    expect(fn() => $supply->command('VOLT 99'))->toThrow(InstrumentFault::class);
    usleep(1_600_000);
    // The error that was not waited for is gone with its answer; what comes after it is answered for itself.
    $slow = new Supply('127.0.0.1', $bench->supply(), 2.5);
    $slow->command('VOLT 4');
    expect(fn() => $slow->command('VOLT 98'))->toThrow(InstrumentFault::class, '-222');
});

it('does not ask again for an error when the instrument has hung up', function (): void {
    $heard = [];
    $server = stream_socket_server('tcp://127.0.0.1:0', $n, $why);
    $port = (int) substr((string) strrchr((string) stream_socket_get_name($server, false), ':'), 1);
    $pid = pcntl_fork();
    if ($pid === 0) {
        for ($i = 0; $i < 3; $i++) {
            $c = @stream_socket_accept($server, 2);
            if ($c === false) {
                break;
            }
            file_put_contents(sys_get_temp_dir() . "/heard-$port", trim((string) fgets($c)) . "\n", FILE_APPEND);
            fclose($c);
        }
        posix_kill(getmypid(), SIGKILL);
    }
    $line = new Line('127.0.0.1', $port, 0.5);
    expect(fn() => $line->ask('SYST:ERR?'))->toThrow(InstrumentFault::class);
    expect(fn() => $line->ask('VOLT?'))->toThrow(InstrumentFault::class);
    pcntl_waitpid($pid, $status);
    $heard = file(sys_get_temp_dir() . "/heard-$port", FILE_IGNORE_NEW_LINES);
    unlink(sys_get_temp_dir() . "/heard-$port");
    expect($heard)->toBe(['SYST:ERR?', 'VOLT?', 'VOLT?']);
});

it('finds the way in which channels are named, and speaks to its own alone', function (string $style): void {
    $bench = habits(["channel-$style"]);
    expect(Scpi::styleOf('127.0.0.1', $bench->supply(), 2, 0.6))->toBe($style);
    $supply = new Supply('127.0.0.1', $bench->supply(), 0.6, 2, $style);
    $supply->set(4.1, 0.4);
    expect($supply->setPoints())
        ->toEqual([4.1, 0.4])
        ->and($supply->volts())
        ->toEqualWithDelta(3.7, 0.01)
        ->and($supply->isOn())
        ->toBeFalse();
})->with(['inst', 'name', 'list']);

it('proves a supply with nothing set, and leaves it off', function (string $habit, ?string $timer, string $says): void {
    $bench = habits($habit === '' ? [] : [$habit]);
    $bench->hand(['do' => 'clip', 'group' => 0]);
    $line = new Line('127.0.0.1', $bench->supply(), 0.6);
    $line->say('APPL 12,3');
    $line->close();
    $supply = new Supply('127.0.0.1', $bench->supply(), 0.6);
    if ($says !== '') {
        expect(fn() => $supply->provesItself())->toThrow(InstrumentFault::class, $says);
    } else {
        expect($supply->provesItself())->toBe($timer);
    }
    $state = $bench->hand(['do' => 'state']);
    expect($state['output_on'])->toBeFalse();
    foreach ($state['outputs'] as $o) {
        expect($o['volts'])->toEqual(0);
    }
})->with([
    'a good one' => ['', 'OUTP:TIM', ''],
    'one that stays on' => ['stays-on', null, ''],
    'one that keeps its set-points' => ['deaf', null, 'was not switched on'],
]);

it('says so when an output cannot be proved off', function (): void {
    $bench = habits(['sticks']);
    $bench->hand(['do' => 'clip', 'group' => 0]);
    $supply = new Supply('127.0.0.1', $bench->supply(), 0.6);
    (new Line('127.0.0.1', $bench->supply(), 0.6))->say('OUTP:TIM 60;:OUTP ON');
    usleep(100_000);
    expect(fn() => $supply->provesItself())->toThrow(InstrumentFault::class, 'switch it off by hand');
});

it('finds out that an output does not go off when told, while its own timer would end it', function (): void {
    $bench = habits(['sticks']);
    $bench->hand(['do' => 'clip', 'group' => 0]);
    expect(fn() => (new Supply('127.0.0.1', $bench->supply(), 0.6))->provesItself())->toThrow(InstrumentFault::class, 'when told');
});

it('talks to one that takes one client only, meter and thermometer over one conversation', function (): void {
    $bench = habits(['one-client']);
    $meter = new Meter('127.0.0.1', $bench->meter(), 0.6);
    $thermometer = new Meter('127.0.0.1', $bench->meter(), 0.6);
    expect($meter->volts())->toEqualWithDelta(3.7, 0.002)->and($thermometer->celsius())->toEqualWithDelta(20.0, 0.5);
    expect(fn() => (new Line('127.0.0.1', $bench->meter(), 0.6))->ask('*IDN?'))->toThrow(InstrumentFault::class);
});

it('answers a client that says one thing and shuts its side', function (): void {
    $bench = habits([]);
    for ($n = 0; $n < 20; $n++) {
        $c = stream_socket_client("tcp://127.0.0.1:{$bench->meter()}");
        fwrite($c, $n % 2 === 0 ? "*IDN?\n" : '*IDN?');
        stream_socket_shutdown($c, STREAM_SHUT_WR);
        expect(trim((string) stream_get_contents($c)))->toStartWith('Heartwood,Stand-in meter');
        fclose($c);
    }
});
