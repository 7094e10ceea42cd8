<?php

declare(strict_types=1);

use Heartwood\Core\Log\CapacityTest;
use Heartwood\Core\Log\GaugeCheck;
use Heartwood\Core\Log\LogFigures;
use Heartwood\Core\Log\LogProblem;
use Heartwood\Core\Log\LogReader;
use Heartwood\Core\Log\LogTerms;
use Heartwood\Core\Log\Mapping;
use Heartwood\Core\Log\SampleOfLot;
use Heartwood\Core\Log\SeriesChunk;
use Heartwood\Core\Pack\Chemistry;

/** A cell of analytic truth: linear rest voltage, one resistance; charge to full by taper, rest, discharge to the cut-off. */
const TRUE_OHM = 0.05;
const TRUE_AH = 2.8;

/** @return list<array{float, float, float}> time, volts, amps */
function trueLog(float $dt = 1.0, float $amps = 0.56, float $start = 0.2): array
{
    $open = fn(float $soc): float => 2.8 + 1.4 * $soc;
    $rows = [];
    $t = 0.0;
    $soc = $start;
    $add = function (float $i) use (&$rows, &$t, &$soc, $open, $dt): void {
        $rows[] = [$t, $open($soc) + $i * TRUE_OHM, $i];
        $soc += ($i * $dt) / 3600 / TRUE_AH;
        $t += $dt;
    };
    for ($k = 0; $k < 60; $k++) {
        $add(0.0);
    }
    while (($i = min(1.4, (4.2 - $open($soc)) / TRUE_OHM)) > 0.1) {
        $add($i);
    }
    for ($k = 0; $k < 1800 / $dt; $k++) {
        $add(0.0);
    }
    while ($open($soc) - $amps * TRUE_OHM > 2.45) {
        $add(-$amps);
    }
    for ($k = 0; $k < 600 / $dt; $k++) {
        $add(0.0);
    }

    return $rows;
}

function analyse(string $csv, ?Mapping $map = null, ?LogTerms $terms = null, ?callable $sink = null): LogFigures
{
    $f = fopen('php://memory', 'r+');
    fwrite($f, $csv);
    rewind($f);

    $terms ??= LogTerms::of(Chemistry::Nmc, 2.8, ambientC: 22.0);

    return LogReader::figures($f, $map ?? LogReader::mapping($f, $terms), $terms, $sink);
}

function csv(array $rows, string $header = "Test Time / s,Voltage / V,Current / A\n", string $format = "%.3f,%.6f,%.6f\n"): string
{
    return $header . implode('', array_map(fn(array $r): string => sprintf($format, ...$r), $rows));
}

/** Discharge from the state of charge at which the taper ended to the cut-off of 2.5 V, in closed form. */
function trueCapacity(float $amps = 0.56): float
{
    $full = (4.2 - 0.1 * TRUE_OHM - 2.8) / 1.4;
    $empty = (2.5 + $amps * TRUE_OHM - 2.8) / 1.4;

    return ($full - $empty) * TRUE_AH;
}

it('gives capacity, steps and resistance within a thousandth of the truth', function (): void {
    $f = analyse(csv(trueLog()));
    expect(array_column($f->steps, 'kind'))
        ->toBe(['rest', 'charge', 'rest', 'discharge', 'rest'])
        ->and($f->capacity['ah'])
        ->toEqualWithDelta(trueCapacity(), 0.001 * TRUE_AH)
        ->and($f->capacity['counts'])
        ->toBeTrue()
        ->and($f->capacity['soh'])
        ->toEqualWithDelta(trueCapacity() / 2.8, 0.001)
        ->and($f->capacity['missing'])
        ->toBe([]);
    $rest = array_values(array_filter($f->resistances, fn(array $r): bool => $r['from_a'] === 0.0 && $r['to_a'] < 0))[0];
    expect($rest['mohm_1s'])->toEqualWithDelta(50.0, 0.3);
});

it('interpolates the crossing of the cut-off between two far rows', function (): void {
    $coarse = analyse(csv(trueLog(15.0)));
    expect($coarse->capacity['ah'])->toEqualWithDelta(trueCapacity(), 0.001 * TRUE_AH);
});

it('is within a thousandth whether a tester writes a row before or after the time that it stands for', function (bool $before): void {
    $rows = [];
    $soc = 0.98;
    $t = 0.0;
    $row = function (float $i) use (&$rows, &$soc, &$t): void {
        $rows[] = [$t, 2.8 + 1.4 * $soc + $i * TRUE_OHM, $i];
    };
    $add = function (float $i, float $dt) use (&$soc, &$t, $row, $before): void {
        $before ? $row($i) : null;
        $t += $dt;
        $soc += ($i * $dt) / 3600 / TRUE_AH;
        $before ? null : $row($i);
    };
    for ($k = 0; $k < 60; $k++) {
        $add(0.0, 20.0);
    }
    while (2.8 + 1.4 * $soc - 0.56 * TRUE_OHM > 2.45) {
        $add(-0.56, 20.0);
    }
    $f = analyse(csv($rows));
    $true = (0.98 - (2.5 + 0.56 * TRUE_OHM - 2.8) / 1.4) * TRUE_AH;
    $step = array_values(array_filter($f->steps, fn(array $s): bool => $s['kind'] === 'discharge'))[0];
    expect(abs((float) $step['cutoff_ah']))->toEqualWithDelta($true, 0.001 * $true);
})->with([true, false]);

it('has the same figures from every dialect of the same log', function (string $csv): void {
    $f = analyse($csv);
    expect($f->skipped)
        ->toBe(0)
        ->and($f->capacity['ah'])
        ->toEqualWithDelta(trueCapacity(), 0.002 * TRUE_AH);
})->with(function (): Generator {
    $rows = trueLog();
    yield 'semicolon and decimal comma' => [
        "Zeit [s];Spannung [V];Strom [A]\n" .
        implode('', array_map(fn(array $r): string => str_replace('.', ',', sprintf("%.1f;%.5f;%.5f\n", ...$r)), $rows)),
    ];
    yield 'tabs, milliunits, other order' => [
        "Current (mA)\tVoltage (mV)\tTime (min)\n" .
        implode('', array_map(fn(array $r): string => sprintf("%.3f\t%.3f\t%.6f\n", 1000 * $r[2], 1000 * $r[1], $r[0] / 60), $rows)),
    ];
    yield 'quotes and a clock' => [
        "\"Record\",\"Total Time\",\"Voltage(V)\",\"Current(A)\"\n" .
        implode(
            '',
            array_map(
                fn(array $r, int $k): string => sprintf(
                    "\"%d\",\"%02d:%02d:%02d\",\"%.5f\",\"%.5f\"\n",
                    $k,
                    intdiv((int) $r[0], 3600),
                    intdiv((int) $r[0] % 3600, 60),
                    (int) $r[0] % 60,
                    $r[1],
                    $r[2],
                ),
                $rows,
                array_keys($rows),
            ),
        ),
    ];
    yield 'stamps past midnight' => [
        "Date Time;Voltage;Current\n" .
        implode(
            '',
            array_map(
                fn(array $r): string => sprintf("%s;%.5f;%.5f\n", gmdate('Y-m-d H:i:s', 1795647600 + (int) $r[0]), $r[1], $r[2]),
                $rows,
            ),
        ),
    ];
    yield 'a preamble and windows lines' => [
        "Device: tester\r\nOperator: somebody\r\n\r\nTime,Voltage,Current,Temperature\r\ns,V,A,degC\r\n" .
        implode('', array_map(fn(array $r): string => sprintf("%.1f,%.5f,%.5f,22.4\r\n", ...$r), $rows)),
    ];
    yield 'no header at all' => [csv($rows, '')];
    $coarse = trueLog(5.0);
    $write = fn(string $header, callable $row): string => $header .
        implode('', array_map(fn(array $r, int $k): string => $row($r[0], $r[1], $r[2], $k), $coarse, array_keys($coarse)));
    $clock = fn(float $t): string => sprintf('%02d:%02d:%02d', intdiv((int) $t, 3600), intdiv((int) $t % 3600, 60), (int) $t % 60);
    $way = fn(float $i): string => $i == 0.0 ? 'Rest' : ($i > 0 ? 'CC-CV Chg' : 'CC DChg');
    $from = 0.0;
    $since = [];
    foreach ($coarse as $k => [$t, , $i]) {
        $from = $k > 0 && ($i <=> 0.0) !== ($coarse[$k - 1][2] <=> 0.0) ? $t - 5.0 : $from;
        $since[] = $t - $from;
    }
    yield 'units in brackets, one letter each' => [
        $write("U[mV];I[mA];t[min]\r\n", fn($t, $v, $i): string => sprintf("%.2f;%.2f;%.6f\r\n", 1000 * $v, 1000 * $i, $t / 60)),
    ];
    yield 'units in a line of their own' => [
        $write("Time,Voltage,Current\ns,mV,mA\n", fn($t, $v, $i): string => sprintf("%.0f,%.2f,%.2f\n", $t, 1000 * $v, 1000 * $i)),
    ];
    yield 'units behind every number' => [
        $write("Time,Voltage,Current\n", fn($t, $v, $i): string => sprintf("%.0f s,%.5f V,%.5f A\n", $t, $v, $i)),
    ];
    yield 'quoted decimal commas between commas' => [
        $write(
            "\"Time\",\"Voltage\",\"Current\"\n",
            fn($t, $v, $i): string => str_replace('.', ',', sprintf('"%.1f"', $t)) .
                ',"' .
                str_replace('.', ',', sprintf('%.5f', $v)) .
                '","' .
                str_replace('.', ',', sprintf('%.5f', $i)) .
                "\"\n",
        ),
    ];
    yield 'thousands' => [
        $write(
            "Time;Voltage;Current\n",
            fn($t, $v, $i): string => number_format($t, 0, ',', '.') . ';' . str_replace('.', ',', sprintf("%.5f;%.5f\n", $v, $i)),
        ),
    ];
    yield 'two bytes a letter' => [
        "\xFF\xFE" .
        mb_convert_encoding(
            $write("Time (s),Voltage (V),Current (A)\n", fn($t, $v, $i): string => sprintf("%.0f,%.5f,%.5f\n", $t, $v, $i)),
            'UTF-16LE',
            'UTF-8',
        ),
    ];
    yield 'a date and a clock apart' => [
        $write(
            "Date,Time,Voltage (V),Current (A)\n",
            fn($t, $v, $i): string => gmdate('Y-m-d,H:i:s', 1795647600 + (int) $t) . sprintf(",%.5f,%.5f\n", $v, $i),
        ),
    ];
    yield 'a date with the day first' => [
        $write(
            "Datum;Spannung/V;Strom/A\n",
            fn($t, $v, $i): string => gmdate('d.m.Y H:i:s', 1795647600 + (int) $t) . sprintf(";%.5f;%.5f\n", $v, $i),
        ),
    ];
    yield 'morning and evening' => [
        $write(
            "Date Time,Voltage,Current\n",
            fn($t, $v, $i): string => gmdate('m/d/Y h:i:s A', 1795647600 + (int) $t) . sprintf(",%.5f,%.5f\n", $v, $i),
        ),
    ];
    yield 'time that begins anew with every step' => [
        $write("Step Time (s),Voltage (V),Current (A)\n", fn($t, $v, $i, $k): string => sprintf("%.0f,%.5f,%.5f\n", $since[$k], $v, $i)),
    ];
    yield 'a clock that begins anew with every step' => [
        $write(
            "Step;Step Time;Voltage/V;Current/A\n",
            fn($t, $v, $i, $k): string => '1;' . $clock($since[$k]) . sprintf(";%.5f;%.5f\n", $v, $i),
        ),
    ];
    yield 'energy and power before time' => [
        $write(
            "Power (W),Energy (Wh),Current (A),Voltage (V),Elapsed Time (s)\n",
            fn($t, $v, $i, $k): string => sprintf("%.4f,%.4f,%.5f,%.5f,%.0f\n", $v * $i, 0.01 * $k, $i, $v, $t),
        ),
    ];
    yield 'limits and other lures' => [
        $write(
            "Index,Voltage limit (V),Test Time (h),Cell Voltage (mV),Cell Current (mA),Temp (C)\n",
            fn($t, $v, $i, $k): string => sprintf("%d,4.2,%.7f,%.2f,%.2f,23\n", $k, $t / 3600, 1000 * $v, 1000 * $i),
        ),
    ];
    yield 'discharge positive' => [
        $write("Time (s),Voltage (V),Current (A)\n", fn($t, $v, $i): string => sprintf("%.0f,%.5f,%.5f\n", $t, $v, -$i)),
    ];
    yield 'no sign, the step tells' => [
        $write(
            "Step,Time (s),Voltage (V),Current (A)\n",
            fn($t, $v, $i): string => $way($i) . sprintf(",%.0f,%.5f,%.5f\n", $t, $v, abs($i)),
        ),
    ];
    yield 'powers of ten' => [
        $write("Time (s),Voltage (V),Current (A)\n", fn($t, $v, $i): string => sprintf("%.6E,%.6E,%.6E\n", $t, $v, $i)),
    ];
    yield 'spaces' => [implode('', array_map(fn(array $r): string => sprintf("%10.1f %8.5f %8.5f\n", ...$r), $rows))];
});

it('turns the sign when the tester counts discharge as positive', function (): void {
    $rows = array_map(fn(array $r): array => [$r[0], $r[1], -$r[2]], trueLog());
    $map = Mapping::guess(csv($rows))->with(['sign' => -1]);
    expect(analyse(csv($rows), $map)->capacity['counts'])->toBeTrue();
});

it('flags a gap and does not bridge it', function (): void {
    $rows = array_values(array_filter(trueLog(), fn(array $r): bool => $r[0] < 14000 || $r[0] > 15000));
    $f = analyse(csv($rows));
    expect($f->gaps)
        ->toHaveCount(1)
        ->and($f->gaps[0]['seconds'])
        ->toBeGreaterThan(990)
        ->and($f->capacity['ah'])
        ->toBeLessThan(trueCapacity() - 0.1)
        ->and($f->capacity['counts'])
        ->toBeFalse()
        ->and(implode($f->capacity['missing']))
        ->toContain('gap');
});

it('does not take a coarser stretch for a gap when the whole file is as coarse', function (): void {
    $rows = [];
    for ($k = 0; $k < 30; $k++) {
        $rows[] = [0.1 * $k, 4.0, -0.5];
    }
    for ($k = 0; $k < 4000; $k++) {
        $rows[] = [3.0 + 10.0 * $k, 4.0 - 0.0003 * $k, -0.5];
    }
    $f = analyse(csv($rows));
    expect($f->gaps)
        ->toBe([])
        ->and($f->steps[0]['ah'])
        ->toEqualWithDelta((-0.5 * (3.0 + 39990.0)) / 3600, 0.002);
});

it('says what a log lacks to count as a capacity test', function (callable $make, string $says): void {
    [$rows, $terms] = $make();
    $c = analyse(csv($rows), null, $terms)->capacity;
    expect($c['counts'])->toBeFalse()->and(implode(' ', $c['missing']))->toContain($says);
})->with([
    'not full' => [
        fn(): array => [array_values(array_filter(trueLog(), fn(array $r): bool => $r[2] < 0.01 && $r[0] > 6000)), null],
        'full charge',
    ],
    'too quick' => [fn(): array => [trueLog(1.0, 2.8), null], 'discharged at'],
    'not to the end' => [fn(): array => [array_values(array_filter(trueLog(), fn(array $r): bool => $r[0] < 16000)), null], 'cut-off'],
    'cold' => [fn(): array => [trueLog(), LogTerms::of(Chemistry::Nmc, 2.8, ambientC: 8.0)], '15 to 30'],
    'no temperature' => [fn(): array => [trueLog(), LogTerms::of(Chemistry::Nmc, 2.8)], 'temperature'],
]);

it('does not take one row out of place for time that begins anew', function (): void {
    $rows = trueLog(5.0);
    $rows[900][0] = 2000.0;
    $map = Mapping::guess(substr(csv($rows), 0, 65536));
    $f = analyse(csv($rows), $map);
    expect($map->resets)
        ->toBeFalse()
        ->and($f->skipped)
        ->toBe(1)
        ->and($f->capacity['ah'])
        ->toEqualWithDelta(trueCapacity(), 0.002 * TRUE_AH);
});

it('takes lead resistance off a two-wire reading', function (): void {
    $f = analyse(csv(trueLog()), null, new LogTerms(2.8, 4.2, 2.5, false, 0.01, 22.0));
    expect($f->resistances[1]['mohm_1s'] ?? $f->resistances[0]['mohm_1s'])->toEqualWithDelta(40.0, 0.5);
});

it('counts what it could not read and goes on', function (): void {
    $lines = explode("\n", csv(trueLog()));
    array_splice($lines, 500, 0, ['garbage', '1,2', 'a,b,c']);
    $f = analyse(implode("\n", $lines));
    expect($f->skipped)->toBe(3)->and($f->errors[0]['row'])->toBe(501)->and($f->capacity['ah'])->toEqualWithDelta(trueCapacity(), 0.003);
});

it('refuses what is no log and says why', function (string $text, string $says): void {
    expect(fn() => analyse($text))->toThrow(LogProblem::class, $says);
})->with([
    'empty' => ['', 'three numbers'],
    'a letter' => ["Dear customer,\nthe pack is fine.\n", 'three numbers'],
    'binary' => ["PK\x03\x04\0\0\0", 'not a text file'],
    'one row' => ["time,voltage,current\n1,2,3\n", 'Fewer than two'],
]);

it('survives a thousand mutated files without a crash', function (): void {
    mt_srand(77);
    $whole = csv(array_slice(trueLog(20.0), 0, 700));
    $outcomes = ['read' => 0, 'refused' => 0];
    for ($n = 0; $n < 1000; $n++) {
        $text = $whole;
        for ($m = mt_rand(1, 6); $m > 0; $m--) {
            $at = mt_rand(0, max(0, strlen($text) - 2));
            $text = match (mt_rand(0, 6)) {
                0 => substr($text, 0, $at),
                1 => substr($text, $at),
                2 => substr_replace($text, chr(mt_rand(0, 255)), $at, 1),
                3 => substr_replace(
                    $text,
                    str_repeat([';', ',', '"', "\n", "\r", '-', '9', '.', 'e'][mt_rand(0, 8)], mt_rand(1, 40)),
                    $at,
                    mt_rand(0, 5),
                ),
                4 => str_replace([',', '.'][mt_rand(0, 1)], [';', "\t", ',', '', '"'][mt_rand(0, 4)], $text),
                5 => substr_replace($text, substr($text, mt_rand(0, max(0, strlen($text) - 300)), 200), $at, 0),
                default => substr_replace($text, 'NaN,1e999,-inf', $at, mt_rand(0, 30)),
            };
        }
        try {
            $f = analyse($text);
            foreach ($f->steps as $s) {
                foreach ($s as $value) {
                    expect(is_float($value) ? is_finite($value) : true)->toBeTrue();
                }
            }
            $outcomes['read']++;
        } catch (LogProblem) {
            $outcomes['refused']++;
        }
    }
    expect($outcomes['read'] + $outcomes['refused'])
        ->toBe(1000)
        ->and($outcomes['read'])
        ->toBeGreaterThan(200)
        ->and($outcomes['refused'])
        ->toBeGreaterThan(50);
});

it('hands every row to the sink once, and the stored parts give them back', function (): void {
    $rows = trueLog();
    $kept = [];
    $parts = [];
    analyse(csv($rows), null, null, function (array $t, array $v, array $a) use (&$kept, &$parts): void {
        $parts[] = [SeriesChunk::pack($t, $v, $a), count($t), SeriesChunk::pyramid($t, $v, $a)];
        array_push($kept, ...$t);
    });
    expect($kept)->toHaveCount(count($rows));
    [$blob, $n, $pyramid] = $parts[0];
    $back = SeriesChunk::unpack($blob, $n);
    $levels = SeriesChunk::levels($pyramid);
    expect($back['t'][5])
        ->toBe($rows[5][0])
        ->and($back['v'][5])
        ->toEqualWithDelta($rows[5][1], 1e-5)
        ->and($levels[0]['v_min'])
        ->toEqualWithDelta(min(array_column(array_slice($rows, 0, 64), 1)), 1e-5)
        ->and($levels)
        ->toHaveCount((int) ceil($n / 64))
        ->and(strlen($blob))
        ->toBeLessThan(16 * $n)
        ->and(fn() => SeriesChunk::unpack(substr($blob, 0, -8), $n))
        ->toThrow(Exception::class);
});

it('keeps a guess that a person corrected', function (): void {
    $map = Mapping::guess("w,x,y,z\n1,3.7,0.5,20\n2,3.7,0.5,20\n3,3.7,0.5,20\n");
    $fixed = $map->with(['columns' => ['current' => 2, 'temperature' => 3], 'scale' => ['current' => 0.001], 'sign' => -1]);
    expect($fixed->toArray()['columns'])
        ->toMatchArray(['current' => 2, 'temperature' => 3])
        ->and($fixed->scale['current'])
        ->toBe(0.001)
        ->and($fixed->sign)
        ->toBe(-1.0)
        ->and($map->with($fixed->toArray())->toArray())
        ->toBe($fixed->toArray());
});

it('gives a sample its interval by Student and the finite lot, and none to a single one', function (): void {
    $s = SampleOfLot::of([2.9, 2.95, 3.0, 2.92, 2.93], 100);
    $sd = sqrt(array_sum(array_map(fn(float $x): float => ($x - 2.94) ** 2, [2.9, 2.95, 3.0, 2.92, 2.93])) / 4);
    expect($s['mean'])
        ->toEqualWithDelta(2.94, 1e-9)
        ->and($s['high'] - $s['mean'])
        ->toEqualWithDelta(((2.776 * $sd) / sqrt(5)) * sqrt(95 / 99), 1e-6)
        ->and(SampleOfLot::of([2.9, 2.95, 3.0], 3)['low'])
        ->toEqualWithDelta(2.95, 1e-9)
        ->and(SampleOfLot::of([2.9], 50)['low'])
        ->toBeNull();
    // Two that happen to be equal are no surer than the tests themselves.
    $equal = SampleOfLot::of([2.9, 2.9], 100);
    expect($equal['high'] - $equal['mean'])->toEqualWithDelta(((12.706 * 0.005 * 2.9) / sqrt(2)) * sqrt(98 / 99), 1e-6);
});

it('calls a gauge stale beyond five parts of a hundred', function (): void {
    expect(GaugeCheck::of(52.0, 41.0)['stale'])->toBeTrue()->and(GaugeCheck::of(42.0, 41.0)['stale'])->toBeFalse();
});

/**
 * The true log with a pause put into its discharge, so many seconds after it began; the rest stays as it was.
 *
 * @return list<array{float, float, float}>
 */
function paused(float $after, float $seconds, int $times = 1): array
{
    $out = [];
    $shift = 0.0;
    $began = null;
    $done = 0;
    foreach (trueLog() as [$t, $v, $i]) {
        if ($i < -0.01) {
            $began ??= $t;
            if ($done < $times && $t - $began >= ($done + 1) * $after) {
                for ($k = 0; $k < $seconds; $k++) {
                    $out[] = [$t + $shift + $k, $v + 0.56 * TRUE_OHM, 0.0];
                }
                $shift += $seconds;
                $done++;
            }
        }
        $out[] = [$t + $shift, $v, $i];
    }

    return $out;
}

/** @param  array<int, array{?float, ?float}>  $bad  seconds into the discharge => volts and amps of one row that is off */
function withBadRows(array $bad): array
{
    $rows = trueLog();
    $began = null;
    foreach ($rows as $k => [$t, $v, $i]) {
        if ($i < -0.01) {
            $began ??= $k;
            if (isset($bad[$k - $began])) {
                $rows[$k] = [$t, $bad[$k - $began][0] ?? $v, $bad[$k - $began][1] ?? $i];
            }
        }
    }

    return $rows;
}

it('adds up a discharge that was interrupted, and does not let it count', function (float $seconds, int $times, bool $counts): void {
    $c = analyse(csv(paused(3000.0, $seconds, $times)))->capacity;
    expect($c['ah'])
        ->toEqualWithDelta(trueCapacity(), 0.002 * TRUE_AH)
        ->and($c['counts'])
        ->toBe($counts)
        ->and($c['amps'])
        ->toEqualWithDelta(0.56, 0.005);
    if (!$counts) {
        expect(implode(' ', $c['missing']))->toContain($times === 1 ? 'interrupted once' : "interrupted $times times");
    }
})->with([
    'a rest of half an hour' => [1800.0, 1, false],
    'in pulses' => [600.0, 4, false],
    'just not a pause' => [58.0, 1, true],
    'just a pause' => [63.0, 1, false],
]);

it('ends a discharge where the cut-off is first reached, whatever is drawn after a rest', function (): void {
    $rows = trueLog();
    $last = $rows[count($rows) - 1];
    for ($k = 1; $k < 1200; $k++) {
        $rows[] = [$last[0] + $k, 2.9 - 0.0004 * $k, -0.56];
    }
    $c = analyse(csv($rows))->capacity;
    expect($c['ah'])
        ->toEqualWithDelta(trueCapacity(), 0.002 * TRUE_AH)
        ->and($c['counts'])
        ->toBeTrue();
});

it('is not ended, nor begun anew, by rows that are off', function (array $bad): void {
    $c = analyse(csv(withBadRows($bad)))->capacity;
    expect($c['ah'])
        ->toEqualWithDelta(trueCapacity(), 0.002 * TRUE_AH)
        ->and($c['missing'])
        ->toBe([])
        ->and($c['counts'])
        ->toBeTrue();
})->with([
    'one row at nothing' => [[500 => [0.0, null]]],
    'two rows just under the cut-off' => [[500 => [2.49, null], 501 => [2.49, null]]],
    'one row without current' => [[500 => [null, 0.0]]],
    'one row of charge' => [[500 => [null, 9.0]]],
    'one row of far too much' => [[500 => [null, -9.0]]],
    'several, far apart' => [[100 => [0.0, 0.0], 4000 => [9.9, null], 9000 => [null, 0.0]]],
]);

it('reaches the cut-off at so many rows under it, and not before', function (int $rows, bool $reached): void {
    $bad = array_fill_keys(range(500, 499 + $rows), [2.4, null]);
    $ah = analyse(csv(withBadRows($bad)))->capacity['ah'];
    expect($ah < 0.5)->toBe($reached);
})->with([[2, false], [3, true]]);

it('goes by the warmth of the discharge as it was measured, and not by the room', function (
    float $charge,
    float $discharge,
    ?float $room,
    bool $counts,
): void {
    $rows = array_map(fn(array $r): array => [...$r, $r[2] < -0.01 ? $discharge : $charge], trueLog(5.0));
    $f = analyse(
        csv($rows, "Test Time / s,Voltage / V,Current / A,Temperature / degC\n", "%.0f,%.6f,%.6f,%.1f\n"),
        null,
        LogTerms::of(Chemistry::Nmc, 2.8, ambientC: $room),
    );
    expect($f->capacity['temperature_c'])->toEqualWithDelta($discharge, 0.5)->and($f->capacity['counts'])->toBe($counts);
})->with([
    'a warm charge before it' => [45.0, 22.0, null, true],
    'warm, whatever the room' => [22.0, 45.0, 22.0, false],
    'just warm' => [22.0, 30.4, null, false],
    'just not too warm' => [22.0, 29.6, null, true],
    'just cold' => [22.0, 14.6, null, false],
    'just not too cold' => [22.0, 15.4, null, true],
]);

it('asks whether it was full where no charge is in the log, and takes somebody\'s word', function (): void {
    $discharge = array_values(array_filter(trueLog(), fn(array $r): bool => $r[2] < -0.01));
    $asked = analyse(csv($discharge))->capacity;
    expect($asked['counts'])
        ->toBeFalse()
        ->and($asked['asks_full'])
        ->toBeTrue()
        ->and($asked['missing'])
        ->toBe(['no full charge before it in this log: was it full?']);
    $said = analyse(csv($discharge), null, LogTerms::of(Chemistry::Nmc, 2.8, ambientC: 22.0, saidFull: true))->capacity;
    expect($said['counts'])->toBeTrue()->and($said['asks_full'])->toBeFalse();
    // A charge that is seen to have ended short is not talked full.
    $short = analyse(
        csv(array_values(array_filter(trueLog(), fn(array $r): bool => $r[2] <= 0.0 || $r[2] > 1.39))),
        null,
        LogTerms::of(Chemistry::Nmc, 2.8, ambientC: 22.0, saidFull: true),
    )->capacity;
    expect($short['counts'])->toBeFalse()->and($short['missing'][0])->toContain('did not end full');
});

it('believes no more than a cell of that rating can give', function (float $rated, bool $believed): void {
    $c = analyse(csv(trueLog()), null, LogTerms::of(Chemistry::Nmc, $rated, ambientC: 22.0))->capacity;
    expect($c['believed'])->toBe($believed);
    if (!$believed) {
        expect($c['counts'])->toBeFalse()->and($c['missing'][0])->toContain('is not believed');
    }
})->with([
    'just believed' => [trueCapacity() / 1.49, true],
    'just not' => [trueCapacity() / 1.51, false],
    'of a hundredth' => [0.028, false],
]);

it('believes no amps that no test draws', function (float $amps, bool $believed): void {
    // Half a minute from full to empty, in units that are a thousandfold off.
    $rows = array_map(fn(int $k): array => [0.02 * $k, 4.2 - 0.005 * $k, -$amps], range(0, 400));
    $c = analyse(csv($rows, "Test Time / s,Voltage / V,Current / A\n", '%.3f,%.6f,%.6f' . "\n"))->capacity;
    expect($c['believed'])->toBe($believed);
})->with([[29.0 * 2.8, true], [31.0 * 2.8, false]]);

it('does not count where too many rows could not be read', function (int $bad, bool $counts): void {
    $lines = explode("\n", trim(csv(trueLog(10.0))));
    $rows = count($lines) - 1;
    // As far from one another as they can be, so that none makes a gap.
    for ($k = 0; $k < $bad; $k++) {
        array_splice($lines, 5 + (int) (($k * $rows) / $bad), 0, 'garbage');
    }
    $c = analyse(implode("\n", $lines))->capacity;
    expect($c['counts'])->toBe($counts);
    if (!$counts) {
        expect(implode(' ', $c['missing']))->toContain('could not be read');
    }
})->with(
    fn(): array => [
        'just under one in a hundred' => [(int) floor(0.0099 * count(trueLog(10.0))), true],
        'just over' => [(int) ceil(0.0103 * count(trueLog(10.0))) + 1, false],
    ],
);

/**
 * A capacity test of 10 Ah at 2 A as its steps, with what differs.
 *
 * @param  array<string, mixed>  $charge
 * @param  list<array<string, mixed>>  $discharges
 * @return array<string, mixed>
 */
function judged(array $charge = [], array $discharges = [[]], float $interval = 1.0): array
{
    $steps = [$charge + ['kind' => 'charge', 'from_s' => 0.0, 'to_s' => 9000.0, 'ah' => 10.0, 'v_end' => 4.2, 'a_end' => 0.5]];
    $at = 9600.0;
    foreach ($discharges as $d) {
        $steps[] = $d + [
            'kind' => 'discharge',
            'from_s' => $at,
            'to_s' => $at + 18000.0,
            'ah' => -10.0,
            'wh' => -37.0,
            'v_start' => 4.1,
            'v_end' => 2.5,
            'a_mean' => -2.0,
            'cutoff_ah' => -10.0,
            'cutoff_wh' => -37.0,
        ];
        $at = $steps[count($steps) - 1]['to_s'];
    }

    return CapacityTest::judge($steps, [], LogTerms::of(Chemistry::Nmc, 10.0), fn(): float => 22.0, $interval) ??
        throw new LogicException('nothing was judged');
}

it('counts as a capacity test within the limits of one', function (array $charge, array $discharge, string $lacks): void {
    $c = judged($charge, [$discharge]);
    expect($c['counts'])
        ->toBe($lacks === '')
        ->and(implode(' ', $c['missing']))
        ->toContain($lacks);
})->with([
    'as it should be' => [[], [], ''],
    'full, just' => [['v_end' => 4.181], [], ''],
    'not full, just' => [['v_end' => 4.179], [], 'did not end full'],
    'the tail, just small enough' => [['a_end' => 0.524], [], ''],
    'the tail, just not' => [['a_end' => 0.526], [], 'did not end full'],
    'slow, just quick enough' => [[], ['to_s' => 9600.0 + 35900.0], ''],
    'slow, just not' => [[], ['to_s' => 9600.0 + 36100.0], 'discharged at'],
    'quick, just slow enough' => [[], ['to_s' => 9600.0 + 12020.0], ''],
    'quick, just not' => [[], ['to_s' => 9600.0 + 11980.0], 'discharged at'],
    'no cut-off' => [[], ['cutoff_ah' => null], 'was not reached'],
]);

it('begins a discharge anew at a charge, and at none that is a row or two', function (float $ah, float $expected): void {
    $half = ['to_s' => 18600.0, 'ah' => -5.0, 'cutoff_ah' => null];
    $c = judged(
        [],
        [
            $half,
            ['kind' => 'charge', 'from_s' => 18600.0, 'to_s' => 18640.0, 'ah' => $ah, 'v_end' => 4.2, 'a_end' => 0.5, 'cutoff_ah' => null],
            ['from_s' => 18640.0, 'to_s' => 28000.0, 'ah' => -5.2, 'cutoff_ah' => -5.2],
        ],
    );
    expect($c['ah'])->toBe($expected);
})->with(['just a charge' => [0.201, 5.2], 'just none' => [0.199, 10.2]]);

it('takes so short a stretch for rows that are off, and no longer one', function (float $lasts, float $expected): void {
    // Nine amp-hours in a moment: of rows that are off, 2 A stand in their place.
    $half = ['to_s' => 18600.0, 'ah' => -5.0, 'v_end' => 3.7, 'cutoff_ah' => null];
    $c = judged(
        [],
        [
            $half,
            ['from_s' => 18600.0, 'to_s' => 18600.0 + $lasts, 'ah' => -0.9, 'a_mean' => -90.0, 'cutoff_ah' => null],
            ['from_s' => 18600.0 + $lasts, 'to_s' => 28000.0, 'ah' => -5.0, 'cutoff_ah' => -5.0],
        ],
        10.0,
    );
    expect($c['ah'])->toEqualWithDelta($expected, 0.02);
})->with(['just' => [29.9, 10.0], 'just longer' => [30.1, 10.9]]);
