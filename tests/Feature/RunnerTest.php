<?php

declare(strict_types=1);

use App\Instruments\Desk;
use App\Instruments\Identity;
use App\Instruments\InstrumentFault;
use App\Instruments\Line;
use App\Instruments\Lines;
use App\Instruments\Locks;
use App\Instruments\RunFolder;
use App\Instruments\Runner;
use Illuminate\Support\Str;
use Tests\Feature\LiveBench;

/*
 * The runner against live stand-ins, time twenty times quicker: what it orders is what the supply's own log says it did.
 */

afterEach(function (): void {
    Lines::closeAll();
    exec('rm -rf ' . escapeshellarg(RunFolder::root()) . '/*');
});

/** One run on a live bench, turned by the test. */
final class LiveRun
{
    public readonly Runner $runner;

    public readonly RunFolder $folder;

    /**
     * @param  array<string, mixed>  $more  of the run's plan
     * @param  array<string, mixed>  $setup  of the whole plan, such as an instrument's identity
     */
    public function __construct(public readonly LiveBench $bench, array $more = [], array $setup = [])
    {
        $bench->hand([
            'do' => 'pack',
            'groups' => array_map(fn(int $k): array => ['v' => $k === 2 ? 2.3 : 3.7], range(1, 4)),
            'capacity_ah' => 10,
            'scale' => 20,
        ]);
        $bench->hand(['do' => 'clip', 'group' => 2]);
        $this->folder = RunFolder::of((string) Str::uuid());
        $at = fn(int $port): array => ['host' => '127.0.0.1', 'port' => $port, 'timeout_s' => 0.6, 'name' => 'x'];
        $this->folder->start(
            $setup + [
                'kind' => 'recovery',
                'series' => 4,
                'time_scale' => 20,
                'started' => microtime(true),
                'keys' => ["test:{$bench->port}"],
                'meter' => $at($bench->meter()),
                'supply' => $at($bench->supply()) + ['timer' => 'OUTP:TIM'],
                'plan' => $more + [
                    'kind' => 'recovery',
                    'group' => 2,
                    'plan_v' => 2.3,
                    'target_v' => 3.7,
                    'asks_clip' => true,
                    'known_v' => [3.7, 2.3, 3.7, 3.7],
                    'pack' => ['chemistry' => 'nmc', 'series' => 4, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]],
                ],
            ],
        );
        $this->runner = new Runner($this->folder, fn(): float => microtime(true));
    }

    /** Turns, with the screen watching, until something is so. @param  Closure(array<string, mixed>): bool  $so */
    public function until(Closure $so, float $seconds = 12.0, bool $watched = true): array
    {
        for ($end = microtime(true) + $seconds; microtime(true) < $end; usleep(150_000)) {
            $watched && $this->folder->touch();
            $this->runner->turn();
            $state = $this->folder->state();
            if ($so($state)) {
                return $state;
            }
        }

        throw new RuntimeException('waited in vain: ' . json_encode($this->folder->state()));
    }

    /** The meter has read, the person has clipped. */
    public function clipped(): void
    {
        $this->until(fn(array $s): bool => ($s['live']['v'] ?? null) !== null && $s['asks_clip'] === true);
        $this->folder->say(['do' => 'clipped', 'who' => 'test']);
    }

    /** @return list<array<string, mixed>> every time the output went on */
    public function wentOn(): array
    {
        return array_values(array_filter($this->bench->hand(['do' => 'state'])['outputs'], fn(array $o): bool => $o['on']));
    }
}

it('sets, reads back, and only then switches on, with what was ordered', function (): void {
    $run = new LiveRun(new LiveBench());
    $run->clipped();
    $state = $run->until(fn(array $s): bool => ($s['live']['a'] ?? 0.0) > 0.3);
    $on = $run->wentOn();
    expect($on)
        ->toHaveCount(1)
        ->and($on[0]['volts'])
        ->toEqual(4.2)
        ->and($on[0]['amps'])
        ->toEqual(0.5)
        ->and($on[0]['clip'])
        ->toBe(2)
        ->and($state['order'])
        ->toMatchArray(['on' => true, 'volts' => 4.2, 'amps' => 0.5])
        ->and($state['set'])
        ->toEqual(['volts' => 4.2, 'amps' => 0.5])
        ->and($state['phase'])
        ->toBe('precharge');
});

it('drives nothing onto another group, and says which it looks like', function (): void {
    $run = new LiveRun(new LiveBench());
    $run->clipped();
    $run->bench->hand(['do' => 'clip', 'group' => 3]);
    $state = $run->until(fn(array $s): bool => $s['over']);
    expect($state['stopped_by'])
        ->toBe('clips.wrong-group')
        ->and($state['text'])
        ->toContain('it looks like group')
        ->and($run->wentOn())
        ->toBe([]);
});

it('drives nothing with the clips the wrong way round', function (): void {
    $run = new LiveRun(new LiveBench());
    $run->clipped();
    $run->bench->hand(['do' => 'reverse']);
    expect($run->until(fn(array $s): bool => $s['over'])['stopped_by'])
        ->toBe('clips.reversed')
        ->and($run->wentOn())
        ->toBe([]);
});

it('drives no supply that keeps its own set-points', function (): void {
    $run = new LiveRun(new LiveBench());
    $run->clipped();
    $run->bench->hand(['do' => 'deaf']);
    expect($run->until(fn(array $s): bool => $s['over'])['stopped_by'])
        ->toBe('supply.not-as-ordered')
        ->and($run->wentOn())
        ->toBe([]);
});

it('is off when somebody else turns the knob', function (): void {
    $run = new LiveRun(new LiveBench());
    $run->clipped();
    $run->until(fn(array $s): bool => ($s['live']['a'] ?? 0.0) > 0.3);
    (new Line('127.0.0.1', $run->bench->supply(), 0.6))->say('VOLT 4.5');
    $state = $run->until(fn(array $s): bool => $s['over']);
    expect($state['stopped_by'])
        ->toBe('supply.not-as-ordered')
        ->and($run->bench->hand(['do' => 'state'])['output_on'])
        ->toBeFalse();
});

it('is off when no screen has asked for three seconds, and counts the start as asking', function (): void {
    $run = new LiveRun(new LiveBench());
    $run->clipped();
    $run->until(fn(array $s): bool => $s['output'] === true);
    $state = $run->until(fn(array $s): bool => $s['paused'] !== null, 6.0, watched: false);
    expect($state['paused'])
        ->toBe('no screen is watching')
        ->and($run->bench->hand(['do' => 'state'])['output_on'])
        ->toBeFalse();
});

it('is off when the meter goes silent, and goes on by itself when it is back and proved', function (): void {
    $run = new LiveRun(new LiveBench());
    $run->clipped();
    $run->until(fn(array $s): bool => ($s['live']['a'] ?? 0.0) > 0.3);
    $run->bench->hand(['do' => 'dead', 'devices' => ['meter']]);
    $state = $run->until(fn(array $s): bool => $s['order']['on'] === false);
    expect($state['phase'])
        ->toBe('prove')
        ->and($state['over'])
        ->toBeFalse()
        ->and($run->bench->hand(['do' => 'state'])['output_on'])
        ->toBeFalse();
    $run->bench->hand(['do' => 'dead', 'devices' => []]);
    expect($run->until(fn(array $s): bool => $s['output'] === true)['phase'])->toBe('precharge');
});

it('leaves the output off when its process ends, and the next one proves anew', function (): void {
    $run = new LiveRun(new LiveBench());
    $run->clipped();
    $run->until(fn(array $s): bool => $s['output'] === true);
    $run->runner->letGo();
    expect($run->bench->hand(['do' => 'state'])['output_on'])->toBeFalse();
    $next = new Runner($run->folder, fn(): float => microtime(true));
    $next->turn();
    expect($run->folder->state()['paused'])->toBe('the runner was away');
});

it('watches on after the end, and an alarm says that current still flows', function (): void {
    $run = new LiveRun(new LiveBench(['sticks']));
    $run->clipped();
    $run->until(fn(array $s): bool => ($s['live']['a'] ?? 0.0) > 0.3);
    $run->folder->say(['do' => 'end', 'why' => 'test', 'who' => 'test']);
    // This supply does not go off when told: its own timer ends it, and until then nobody is told that it is off.
    $state = $run->until(fn(array $s): bool => $s['over']);
    expect($state['output'])->not->toBeFalse();
    $state = $run->until(fn(array $s): bool => $s['output'] === false);
    expect($state['after']['left_s'])->toBeGreaterThan(1000.0)->and($run->runner->isFinished())->toBeFalse();
});

it('watches with the meter while a hand sets the supply', function (): void {
    $run = new LiveRun(new LiveBench(), ['by_hand' => true], ['supply' => null]);
    $run->until(fn(array $s): bool => ($s['live']['v'] ?? null) !== null && $s['asks_clip'] === true);
    $run->folder->say(['do' => 'clipped', 'who' => 'test']);
    for ($n = 0; $n < 4; $n++) {
        $run->until(fn(array $s): bool => $s['asks_clip'] === false && !$s['over']);
        $run->folder->say(['do' => 'typed', 'v' => 2.3, 'a' => 0.0, 'c' => 20.0]);
        usleep(400_000);
    }
    $state = $run->until(fn(array $s): bool => $s['order']['on']);
    expect($state['hands'])->toBeTrue()->and($run->wentOn())->toBe([]);
    // Nobody types, and the meter sees the clips leave for another group.
    $run->bench->hand(['do' => 'clip', 'group' => 3]);
    $state = $run->until(fn(array $s): bool => $s['order']['on'] === false);
    expect($state['phase'])->not->toBe('precharge');
});

it('does not drive a stranger at the address of an instrument that was proved', function (): void {
    $bench = new LiveBench();
    $right = ['maker' => 'Heartwood', 'model' => 'Stand-in supply', 'serial' => "SS-{$bench->port}"];
    $at = ['host' => '127.0.0.1', 'port' => $bench->supply(), 'timeout_s' => 0.6, 'timer' => 'OUTP:TIM'];
    expect((new LiveRun($bench, [], ['supply' => $at + ['idn' => Identity::idn($right)]]))->runner->strangers())
        ->toBeNull()
        ->and((new LiveRun($bench, [], ['supply' => $at + ['idn' => Identity::idn(['serial' => 'SS-1'] + $right)]]))->runner->strangers())
        ->toContain('another instrument');
});

it('gives one instrument to one holder on this machine', function (): void {
    $key = 'test:' . Str::uuid();
    [$one, $two] = [new Locks(), new Locks()];
    expect($one->take([$key, "$key:b"]))
        ->toBeTrue()
        ->and($two->take(["$key:c", $key]))
        ->toBeFalse()
        ->and($two->take(["$key:c"]))
        ->toBeTrue();
    $one->release();
    expect($two->take([$key]))->toBeTrue();
    $two->release();
});

it('knows an instrument by its serial, else by where it is', function (): void {
    $idn = ['maker' => 'A', 'model' => 'B', 'serial' => 'C1'];
    expect(Identity::key($idn, 'one', 5))
        ->toBe(Identity::key(['maker' => 'a ', 'firmware' => 'x'] + $idn, 'two', 6))
        ->and(Identity::key(['serial' => ''] + $idn, 'localhost', 5))
        ->toBe(Identity::key(['serial' => ''] + $idn, '127.0.0.1', 5))
        ->and(Identity::key(['serial' => ''] + $idn, '127.0.0.1', 5))
        ->not->toBe(Identity::key(['serial' => ''] + $idn, '127.0.0.1', 6));
});

it('shows a page what the desk saw, and keeps no page waiting for an instrument', function (): void {
    $bench = new LiveBench();
    $bench->hand(['do' => 'clip', 'group' => 1]);
    $at = fn(int $id, int $port, string $key): array => [
        'id' => $id,
        'kind' => 'meter',
        'host' => '127.0.0.1',
        'port' => $port,
        'timeout_s' => 0.5,
        'channel' => null,
        'style' => '',
        'key' => $key,
    ];
    $key = 'test:' . Str::uuid();
    $desk = proc_open(
        [
            PHP_BINARY,
            '-r',
            'require "' .
            base_path('vendor/autoload.php') .
            '"; while (true) { foreach (App\Instruments\Desk::asked() as $id) { App\Instruments\Desk::serve($id, fn () => ' .
            'false); } usleep(20000); }',
        ],
        [],
        $pipes,
    );
    try {
        expect(Desk::look($at(901, $bench->meter(), $key), 'volts')['volts'])->toEqualWithDelta(3.82, 0.2);
        $drip = new LiveBench(['drip']);
        sleep(4); // the desk lets the first one go when nobody asks
        $slowest = 0.0;
        for ($n = 0; $n < 5; $n++) {
            $from = microtime(true);
            expect(fn() => Desk::look($at(902, $drip->meter(), "$key:drip"), 'volts'))->toThrow(InstrumentFault::class);
            $slowest = max($slowest, microtime(true) - $from);
        }
        expect($slowest)->toBeLessThan(2.0);
    } finally {
        proc_terminate($desk, 9);
        proc_close($desk);
    }
});

it('says who has it, and not whose it is, when the desk finds an instrument in use', function (): void {
    $key = 'test:' . Str::uuid();
    $locks = new Locks();
    $locks->take([$key]);
    file_put_contents(
        Desk::folder() . '/903.ask',
        json_encode([
            'id' => 903,
            'kind' => 'meter',
            'host' => '127.0.0.1',
            'port' => 1,
            'timeout_s' => 0.5,
            'channel' => null,
            'style' => '',
            'key' => $key,
            'what' => 'volts',
        ]),
    );
    $turns = 0;
    Desk::serve('903', function () use (&$turns): bool {
        return $turns++ > 0;
    });
    expect(json_decode((string) file_get_contents(Desk::folder() . '/903.json'), true)['fault'])->toBe('It is in use.');
    $locks->release();
});

it('gives whoever watches what is new since their last look, and a line that is still being written to the next', function (): void {
    $folder = RunFolder::of((string) Str::uuid());
    expect($folder->since(0))->toBe([[], 0]);
    $folder->start(['plan' => []]);
    $folder->note(['is' => 'sample', 't' => 1.0]);
    $folder->note(['is' => 'sample', 't' => 2.0]);
    [$first, $next] = $folder->since(0);
    expect(array_column($first, 't'))
        ->toBe([1, 2])
        ->and($next)
        ->toBe($folder->length());
    file_put_contents("$folder->path/journal.jsonl", '{"is":"sample","t":3', FILE_APPEND);
    expect($folder->since($next))->toBe([[], $next]);
    file_put_contents("$folder->path/journal.jsonl", "}\n", FILE_APPEND);
    [$third, $end] = $folder->since($next);
    expect(array_column($third, 't'))
        ->toBe([3])
        ->and($folder->since($end))
        ->toBe([[], $end])
        ->and($folder->since($end + 999_999))
        ->toBe([[], $end])
        ->and($folder->since(-5))
        ->toBe([[], $end]);
});

it('catches up by several looks when it was away for long, each of them bounded', function (): void {
    $folder = RunFolder::of((string) Str::uuid());
    $folder->start(['plan' => []]);
    $lines = array_map(fn(int $i): string => json_encode(['is' => 'sample', 't' => $i, 'v' => 3.7, 'a' => 0.1]) . "\n", range(1, 20_000));
    file_put_contents("$folder->path/journal.jsonl", implode('', $lines));
    $seen = [];
    for ($place = 0, $looks = 0; $place < $folder->length() && $looks < 50; $looks++) {
        [$entries, $place] = $folder->since($place);
        expect(count($entries))->toBeLessThan(8_000);
        array_push($seen, ...array_column($entries, 't'));
    }
    expect($seen)->toBe(range(1, 20_000))->and($looks)->toBeGreaterThan(2);
});

it('loses to a line that a crash has cut short that line alone, not what is said next', function (): void {
    $folder = RunFolder::of((string) Str::uuid());
    $folder->start(['plan' => []]);
    $folder->note(['is' => 'sample', 't' => 1.0]);
    foreach (['journal.jsonl', 'say.jsonl'] as $file) {
        file_put_contents("$folder->path/$file", '{"do":"sto', FILE_APPEND);
    }
    $folder->note(['is' => 'said', 't' => 2.0, 'do' => 'stop']);
    $folder->say(['do' => 'stop']);
    expect(array_column(iterator_to_array($folder->journal(), false), 'is'))
        ->toBe(['sample', 'said'])
        ->and($folder->said(0))
        ->toBe([['do' => 'stop']]);
});

it('shows who opens a run its course so far and what came since, and a process that takes it up draws the same', function (): void {
    $bench = new LiveBench();
    $run = new LiveRun($bench);
    $turns = 0;
    $run->until(function () use (&$turns): bool {
        return ++$turns >= 30;
    });
    $points = function (RunFolder $f): array {
        $curve = $f->curve();
        $since = array_filter($f->since($curve['upto'])[0], fn(array $e): bool => $e['is'] === 'sample');

        return [...array_column($curve['points'], 't'), ...array_column($since, 't')];
    };
    $all = array_column(array_filter(iterator_to_array($run->folder->journal(), false), fn(array $e): bool => $e['is'] === 'sample'), 't');
    expect($run->folder->curve()['upto'])
        ->toBeGreaterThan(0)
        ->and(count($run->folder->curve()['points']))
        ->toBe(25)
        ->and($points($run->folder))
        ->toEqual($all);
    $run->runner->letGo();
    unlink($run->folder->path . '/curve.json');
    new Runner($run->folder, fn(): float => microtime(true));
    expect($points($run->folder))->toEqual($all);
});
