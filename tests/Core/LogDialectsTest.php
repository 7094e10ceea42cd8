<?php

declare(strict_types=1);

use Heartwood\Core\Log\LogProblem;
use Heartwood\Core\Log\LogReader;
use Heartwood\Core\Log\LogTerms;
use Heartwood\Core\Log\TimeText;
use Heartwood\Core\Pack\Chemistry;

/*
 * One log of known truth, as sixty testers would write it: right to a thousandth, or refused with a reason, and never wrong.
 * A cell of 2.8 Ah with a linear rest voltage and 50 mohm: an hour of rest, a charge to full by taper, rest, a discharge at C/5 to
 * 2.45 V, rest; a row every ten seconds; the room at 21 degC, the cell 3 K warmer under discharge.
 */
const DIALECT_OHM = 0.05;
const DIALECT_AH = 2.8;
const DIALECT_STEP_S = 10;

/** @return list<array{t: int, v: float, i: float, c: float, s: string}> */
function dialectRows(): array
{
    static $rows = null;
    if ($rows !== null) {
        return $rows;
    }
    $rows = [];
    $soc = 0.2;
    $add = function (float $i, string $s) use (&$rows, &$soc): void {
        $c = $s === 'out' ? 24.0 : 21.0;
        $rows[] = ['t' => DIALECT_STEP_S * count($rows), 'v' => 2.8 + 1.4 * $soc + $i * DIALECT_OHM, 'i' => $i, 'c' => $c, 's' => $s];
        $soc += ($i * DIALECT_STEP_S) / 3600 / DIALECT_AH;
    };
    for ($k = 0; $k < 360; $k++) {
        $add(0.0, 'rest');
    }
    while (($i = min(1.4, (4.2 - 2.8 - 1.4 * $soc) / DIALECT_OHM)) > 0.1) {
        $add($i, 'in');
    }
    for ($k = 0; $k < 180; $k++) {
        $add(0.0, 'rest');
    }
    while (2.8 + 1.4 * $soc - 0.56 * DIALECT_OHM > 2.45) {
        $add(-0.56, 'out');
    }
    for ($k = 0; $k < 60; $k++) {
        $add(0.0, 'rest');
    }

    return $rows;
}

/** @param  callable(array{t: int, v: float, i: float, c: float, s: string}, int): string  $row */
function dialect(string $header, callable $row, string $end = "\n"): string
{
    return str_replace("\n", $end, $header) . implode($end, array_map($row, dialectRows(), array_keys(dialectRows()))) . $end;
}

/** @return array{ah: float, wh: float} in closed form */
function dialectTruth(): array
{
    $full = (4.2 - 0.1 * DIALECT_OHM - 2.8) / 1.4;
    $empty = (2.5 + 0.56 * DIALECT_OHM - 2.8) / 1.4;
    $ah = ($full - $empty) * DIALECT_AH;

    return ['ah' => $ah, 'wh' => $ah * (2.8 + 0.7 * ($full + $empty) - 0.56 * DIALECT_OHM)];
}

function clockOf(int $s, int $from = 0): string
{
    $s += $from;

    return sprintf('%02d:%02d:%02d', intdiv($s, 3600), intdiv($s, 60) % 60, $s % 60);
}

function readDialect(string $text, array $said = [], ?float $ambient = null): array
{
    $f = fopen('php://temp', 'r+');
    fwrite($f, $text);
    $terms = LogTerms::of(Chemistry::Nmc, DIALECT_AH, ambientC: $ambient);
    $map = LogReader::mapping($f, $terms, $said);

    return [$map, LogReader::figures($f, $map, $terms)];
}

/** Plain rows with a header of one's own. */
$plain = fn(string $header): Closure => fn(): string => dialect(
    "$header\n",
    fn(array $r): string => sprintf('%d,%.5f,%.5f,%.1f', $r['t'], $r['v'], $r['i'], $r['c']),
);
/** The same with a factor on time, volts, amps. */
$scaled = fn(
    string $header,
    float $t,
    float $v = 1.0,
    float $i = 1.0,
    string $f = '%.9f,%.5f,%.5f,%.1f',
): Closure => fn(): string => dialect("$header\n", fn(array $r): string => sprintf($f, $r['t'] * $t, $r['v'] * $v, $r['i'] * $i, $r['c']));
/** A time as text. */
$timed = fn(string $header, Closure $time, string $sep = ','): Closure => fn(): string => dialect(
    "$header\n",
    fn(array $r): string => implode($sep, [$time($r['t']), sprintf('%.5f', $r['v']), sprintf('%.5f', $r['i']), sprintf('%.1f', $r['c'])]),
);
/** Current without a sign, its way in a column of its own. */
$stated = fn(string $header, array $names): Closure => fn(): string => dialect(
    "$header\n",
    fn(array $r): string => sprintf('%d;%s;%.5f;%.5f;%.1f', $r['t'], $names[$r['s']], $r['v'], abs($r['i']), $r['c']),
);
$stamp = fn(string $format): Closure => fn(int $t): string => gmdate($format, 1790000000 + $t);

$dialects = [
    'slashed units' => $plain('Test Time / s,Voltage / V,Current / A,Temperature / degC'),
    'round brackets' => $plain('Time (s),Voltage (V),Current (A),Temperature (C)'),
    'square brackets, letters alone' => $plain('t[s],U[V],I[A],T[°C]'),
    'warmth before time' => fn(): string => dialect(
        "T[C],t[s],U[V],I[A]\n",
        fn(array $r): string => sprintf('%.1f,%d,%.5f,%.5f', $r['c'], $r['t'], $r['v'], $r['i']),
    ),
    'units by underscores' => $plain('test_time_s,voltage_v,current_a,temp_c'),
    'units after a comma, quoted' => $plain('"Time, s","Voltage, V","Current, A","Temperature, degC"'),
    'units said in words' => $plain('Time in seconds,Voltage in volts,Current in amps,Temperature in degC'),
    'curly brackets' => $plain('Time {s},Voltage {V},Current {A},Temperature {degC}'),
    'no units at all' => $plain('Time,Voltage,Current,Temperature'),
    'no header' => fn(): string => dialect('', fn(array $r): string => sprintf('%d,%.5f,%.5f', $r['t'] + 10, $r['v'], $r['i'])),
    'names that say nothing, units that do' => $plain('Channel 1 [s],Channel 2 [V],Channel 3 [A],Channel 4 [degC]'),
    'the same in thousandths' => $scaled('Ch 1 [ms],Ch 2 [mV],Ch 3 [mA],Ch 4 [degC]', 1000.0, 1000.0, 1000.0, '%.0f,%.2f,%.2f,%.1f'),
    'German' => $plain('Zeit [s],Spannung [V],Strom [A],Temperatur [°C]'),
    'French' => $plain('Temps (s),Tension (V),Courant (A),Température (°C)'),
    'millivolts and milliamps' => $scaled('Time(s),Voltage(mV),Current(mA),Temp(C)', 1.0, 1000.0, 1000.0, '%.0f,%.2f,%.2f,%.1f'),
    'millivolts and milliamps that nobody said' => $scaled('Time,Voltage,Current,Temp', 1.0, 1000.0, 1000.0, '%.0f,%.2f,%.0f,%.1f'),
    'minutes' => $scaled('Time (min),Voltage (V),Current (A),Temp (C)', 1 / 60),
    'hours' => $scaled('Time (h),Voltage (V),Current (A),Temp (C)', 1 / 3600),
    'days' => $scaled('Time (d),Voltage (V),Current (A),Temp (C)', 1 / 86400, 1.0, 1.0, '%.12f,%.5f,%.5f,%.1f'),
    'minutes that nobody said' => $scaled('Time,Voltage,Current,Temp', 1 / 60),
    'hours that nobody said' => $scaled('Time,Voltage,Current,Temp', 1 / 3600),
    'milliseconds that nobody said' => $scaled('Time,Voltage,Current,Temp', 1000.0, 1.0, 1.0, '%.0f,%.5f,%.5f,%.1f'),
    'seconds since 1970' => fn(): string => dialect(
        "Time,Voltage,Current,Temp\n",
        fn(array $r): string => sprintf('%d,%.5f,%.5f,%.1f', 1790000000 + $r['t'], $r['v'], $r['i'], $r['c']),
    ),
    'milliseconds since 1970' => fn(): string => dialect(
        "Time,Voltage,Current,Temp\n",
        fn(array $r): string => sprintf('%d000,%.5f,%.5f,%.1f', 1790000000 + $r['t'], $r['v'], $r['i'], $r['c']),
    ),
    'microseconds since 1970' => fn(): string => dialect(
        "Timestamp,Voltage,Current,Temp\n",
        fn(array $r): string => sprintf('%d000000,%.5f,%.5f,%.1f', 1790000000 + $r['t'], $r['v'], $r['i'], $r['c']),
    ),
    'days as sheets count them' => fn(): string => dialect(
        "Date,Voltage,Current,Temp\n",
        fn(array $r): string => sprintf('%.9f,%.5f,%.5f,%.1f', 46200.25 + $r['t'] / 86400, $r['v'], $r['i'], $r['c']),
    ),
    'a clock' => $timed('Time,Voltage,Current,Temp', fn(int $t): string => clockOf($t)),
    'a clock with microseconds' => $timed('Time,Voltage,Current,Temp', fn(int $t): string => clockOf($t) . '.000250'),
    'a clock with its fraction behind a colon' => $timed('Time,Voltage,Current,Temp', fn(int $t): string => clockOf($t) . ':000'),
    'a clock with two letters of fraction behind a colon' => $timed('Time,Voltage,Current,Temp', fn(int $t): string => clockOf($t) . ':00'),
    'a clock of more than a hundred hours' => $timed('Time,Voltage,Current,Temp', fn(int $t): string => clockOf($t, 99 * 3600)),
    'a clock of one letter of hours' => $timed(
        'Time,Voltage,Current,Temp',
        fn(int $t): string => ltrim(clockOf($t), '0') === '' || clockOf($t)[0] !== '0' ? clockOf($t) : substr(clockOf($t), 1),
    ),
    'a clock that passes midnight' => $timed('Time,Voltage,Current,Temp', fn(int $t): string => clockOf(($t + 80000) % 86400)),
    'a clock with days' => $timed(
        'Time,Voltage,Current,Temp',
        fn(int $t): string => intdiv($t + 80000, 86400) . 'd ' . clockOf(($t + 80000) % 86400),
    ),
    'a clock with days and a dash' => $timed(
        'Time,Voltage,Current,Temp',
        fn(int $t): string => intdiv($t + 80000, 86400) . '-' . clockOf(($t + 80000) % 86400),
    ),
    'a clock of twelve hours' => $timed('Time,Voltage,Current,Temp', $stamp('h:i:s A')),
    'a clock of hours and minutes alone' => $timed(
        'Time,Voltage,Current,Temp',
        fn(int $t): string => sprintf('%d:%02d.%d', intdiv($t, 60), $t % 60, 0),
    ),
    'stamps' => $timed('DateTime,Voltage,Current,Temp', $stamp('Y-m-d H:i:s')),
    'stamps with T and zone' => $timed('DateTime,Voltage,Current,Temp', $stamp('Y-m-d\TH:i:s\Z')),
    'stamps with microseconds' => $timed('DateTime,Voltage,Current,Temp', $stamp('Y-m-d H:i:s.000125')),
    'stamps with the day first' => $timed('DateTime,Voltage,Current,Temp', $stamp('d.m.Y H:i:s')),
    'stamps with the month first' => $timed('DateTime,Voltage,Current,Temp', $stamp('m/d/Y H:i:s')),
    'stamps with a day under thirteen, day first' => $timed(
        'Date Time,Voltage,Current,Temp',
        fn(int $t): string => gmdate('d/m/Y H:i:s', 1791150000 + $t),
    ),
    'stamps with a day under thirteen, month first' => $timed(
        'Date Time,Voltage,Current,Temp',
        fn(int $t): string => gmdate('m/d/Y H:i:s', 1791150000 + $t),
    ),
    'stamps with two letters of year' => $timed('Date Time,Voltage,Current,Temp', $stamp('d/m/y H:i:s')),
    'stamps of twelve hours' => $timed('Date Time,Voltage,Current,Temp', $stamp('m/d/Y h:i:s A')),
    'stamps with the month by name' => $timed('Date Time,Voltage,Current,Temp', $stamp('d-M-Y H:i:s')),
    'decimal commas' => fn(): string => dialect(
        "Zeit/s;Spannung/V;Strom/A;Temperatur/°C\n",
        fn(array $r): string => str_replace('.', ',', sprintf('%d;%.5f;%.5f;%.1f', $r['t'], $r['v'], $r['i'], $r['c'])),
    ),
    'quoted thousands' => fn(): string => dialect(
        "Time (s),Voltage (mV),Current (mA),Temp (C)\n",
        fn(array $r): string => sprintf(
            '"%s","%s","%s",%.1f',
            number_format($r['t']),
            number_format($r['v'] * 1000, 2),
            number_format($r['i'] * 1000, 2),
            $r['c'],
        ),
    ),
    'thousands by dots' => fn(): string => dialect(
        "Zeit/s;Spannung/mV;Strom/mA;Temperatur/°C\n",
        fn(array $r): string => sprintf(
            '%s;%s;%s;%s',
            number_format($r['t'], 1, ',', '.'),
            number_format($r['v'] * 1000, 2, ',', '.'),
            number_format($r['i'] * 1000, 2, ',', '.'),
            number_format($r['c'], 1, ',', ''),
        ),
    ),
    'thousands by apostrophes' => fn(): string => dialect(
        "Zeit/s;Spannung/mV;Strom/mA;Temperatur/°C\n",
        fn(array $r): string => sprintf(
            '%s;%s;%s;%.1f',
            number_format($r['t'], 0, '.', "'"),
            number_format($r['v'] * 1000, 2, '.', "'"),
            number_format($r['i'] * 1000, 2, '.', "'"),
            $r['c'],
        ),
    ),
    'units behind the numbers' => fn(): string => dialect(
        "Time,Voltage,Current,Temp\n",
        fn(array $r): string => sprintf('%ds,%.5fV,%.3fmA,%.1f°C', $r['t'], $r['v'], $r['i'] * 1000, $r['c']),
    ),
    'tabs' => $timed("Time (s)\tVoltage (V)\tCurrent (A)\tTemp (C)", fn(int $t): string => (string) $t, "\t"),
    'bars' => $timed('Time (s)|Voltage (V)|Current (A)|Temp (C)', fn(int $t): string => (string) $t, '|'),
    'blanks' => fn(): string => dialect(
        "time_s voltage_v current_a temp_c\n",
        fn(array $r): string => sprintf('%8d  %.5f  %9.5f  %.1f', $r['t'], $r['v'], $r['i'], $r['c']),
    ),
    'a preamble' => fn(): string => "Tester;Bench 2\nOperator;P.\n\nCell;QL-18\n" .
        dialect(
            "Time (s);Voltage (V);Current (A);Temp (C)\n",
            fn(array $r): string => sprintf('%d;%.5f;%.5f;%.1f', $r['t'], $r['v'], $r['i'], $r['c']),
        ),
    'units in a line of their own' => fn(): string => dialect(
        "Time;Voltage;Current;Temp\nmin;mV;mA;degC\n",
        fn(array $r): string => sprintf('%.9f;%.2f;%.2f;%.1f', $r['t'] / 60, $r['v'] * 1000, $r['i'] * 1000, $r['c']),
    ),
    'CR and LF' => fn(): string => str_replace("\n", "\r\n", $plain('Time (s),Voltage (V),Current (A),Temp (C)')()),
    'CR alone' => fn(): string => str_replace("\n", "\r", $plain('Time (s),Voltage (V),Current (A),Temp (C)')()),
    'a byte order mark' => fn(): string => "\xEF\xBB\xBF" . $plain('Time (s),Voltage (V),Current (A),Temp (C)')(),
    'two bytes a letter, marked' => fn(): string => "\xFF\xFE" .
        mb_convert_encoding($plain('Time (s),Voltage (V),Current (A),Temp (C)')(), 'UTF-16LE', 'UTF-8'),
    'two bytes a letter, without a mark' => fn(): string => mb_convert_encoding(
        $plain('Time (s),Voltage (V),Current (A),Temp (C)')(),
        'UTF-16LE',
        'UTF-8',
    ),
    'two bytes a letter, the other way' => fn(): string => mb_convert_encoding(
        $plain('Time (s),Voltage (V),Current (A),Temp (C)')(),
        'UTF-16BE',
        'UTF-8',
    ),
    'eight bits of an old desktop' => fn(): string => mb_convert_encoding(
        $plain('Zeit (s),Spannung (V),Strom (A),Temperatur (°C)')(),
        'Windows-1252',
        'UTF-8',
    ),
    'discharge is positive' => $scaled('Time (s),Voltage (V),Current (A),Temp (C)', 1.0, 1.0, -1.0, '%.0f,%.5f,%.5f,%.1f'),
    'charge and discharge in columns of their own' => fn(): string => dialect(
        "Time (s),Voltage (V),Charge current (A),Discharge current (A),Temp (C)\n",
        fn(array $r): string => sprintf('%d,%.5f,%.5f,%.5f,%.1f', $r['t'], $r['v'], max(0, $r['i']), max(0, -$r['i']), $r['c']),
    ),
    'the same with the other left empty' => fn(): string => dialect(
        "Time (s),Voltage (V),I_chg (mA),I_dchg (mA),Temp (C)\n",
        fn(array $r): string => sprintf(
            '%d,%.5f,%s,%s,%.1f',
            $r['t'],
            $r['v'],
            $r['i'] < 0 ? '' : sprintf('%.2f', 1000 * $r['i']),
            $r['i'] < 0 ? sprintf('%.2f', -1000 * $r['i']) : '',
            $r['c'],
        ),
    ),
    'the same in German, with minus' => fn(): string => dialect(
        "Zeit (s),Spannung (V),Ladestrom (A),Entladestrom (A),Temp (C)\n",
        fn(array $r): string => sprintf('%d,%.5f,%.5f,%.5f,%.1f', $r['t'], $r['v'], max(0, $r['i']), min(0, $r['i']), $r['c']),
    ),
    'no sign, steps by name' => $stated('Time (s);Step;Voltage (V);Current (A);Temp (C)', [
        'rest' => 'Rest',
        'in' => 'CC_CV Charge',
        'out' => 'CC Discharge',
    ]),
    'no sign, steps in short' => $stated('Time (s);Mode;Voltage (V);Current (A);Temp (C)', ['rest' => 'R', 'in' => 'C', 'out' => 'D']),
    'no sign, states in German' => $stated('Zeit (s);Zustand;Spannung (V);Strom (A);Temp (C)', [
        'rest' => 'Pause',
        'in' => 'Laden',
        'out' => 'Entladen',
    ]),
    'no sign, states in Spanish' => $stated('Time (s);Estado;Voltage (V);Current (A);Temp (C)', [
        'rest' => 'Reposo',
        'in' => 'Carga',
        'out' => 'Descarga',
    ]),
    'no sign, states in Dutch' => $stated('Time (s);Status;Voltage (V);Current (A);Temp (C)', [
        'rest' => 'Rust',
        'in' => 'Laden',
        'out' => 'Ontladen',
    ]),
    'no sign, states by number' => $stated('Time (s);Status;Voltage (V);Current (A);Temp (C)', ['rest' => '0', 'in' => '1', 'out' => '2']),
    'no sign, states by words that nobody knows' => $stated('Time (s);Phase;Voltage (V);Current (A);Temp (C)', [
        'rest' => 'zi',
        'in' => 'fu',
        'out' => 'wo',
    ]),
    'no sign, states by bits' => $stated('Time (s);Flags;Voltage (V);Current (A);Temp (C)', [
        'rest' => '0x00',
        'in' => '0x12',
        'out' => '0x21',
    ]),
    'Fahrenheit' => fn(): string => dialect(
        "Time (s),Voltage (V),Current (A),Temp (°F)\n",
        fn(array $r): string => sprintf('%d,%.5f,%.5f,%.2f', $r['t'], $r['v'], $r['i'], 32 + 1.8 * $r['c']),
    ),
    'kelvin' => fn(): string => dialect(
        "Time (s),Voltage (V),Current (A),Temp (K)\n",
        fn(array $r): string => sprintf('%d,%.5f,%.5f,%.2f', $r['t'], $r['v'], $r['i'], 273.15 + $r['c']),
    ),
    'much beside it' => fn(): string => dialect(
        "Record,Cycle,Step,Test time (s),Step time (s),Voltage (V),Max voltage (V),Current (A),Capacity (Ah),Power (W),Aux temp (C)\n",
        fn(array $r, int $k): string => sprintf(
            '%d,1,2,%d,%d,%.5f,4.2,%.5f,%.5f,%.5f,%.1f',
            $k,
            $r['t'],
            $r['t'] % 500,
            $r['v'],
            $r['i'],
            0.1 * $k,
            $r['v'] * $r['i'],
            $r['c'],
        ),
    ),
];

it('is read by at least sixty dialects', fn() => expect(count($dialects))->toBeGreaterThanOrEqual(60));

it('is right in the dialect of', function (Closure $file): void {
    [$map, $f] = readDialect($file());
    ['ah' => $ah, 'wh' => $wh] = dialectTruth();
    $warm = isset($map->columns['temperature']);
    expect($f->capacity['ah'])
        ->toEqualWithDelta($ah, 0.002 * DIALECT_AH)
        ->and($f->capacity['wh'])
        ->toEqualWithDelta($wh, 0.004 * $wh)
        ->and($f->skipped)
        ->toBe(0)
        ->and($f->capacity['missing'])
        ->toBe($warm ? [] : ['no temperature on record'])
        ->and($f->capacity['temperature_c'])
        ->toEqualWithDelta($warm ? 24.0 : null, 0.05);
    $onset = array_values(array_filter($f->resistances, fn(array $r): bool => abs($r['from_a']) < 0.01 && $r['to_a'] < 0))[0];
    expect($onset['mohm_10s'])->toEqualWithDelta(50.0, 0.6);
})->with(array_map(fn(Closure $file): array => [$file], $dialects));

it('takes a row that is written otherwise than those before it', function (): void {
    $text = dialect(
        "Time (s),Voltage (V),Current (A),Temp (C)\n",
        fn(array $r): string => sprintf(
            $r['t'] < 1000 ? '%s,%.5f,%.5f,%.1f' : '"%s",%.5f,%.5f,%.1f',
            number_format($r['t']),
            $r['v'],
            $r['i'],
            $r['c'],
        ),
    );
    [, $f] = readDialect($text);
    expect($f->skipped)
        ->toBe(0)
        ->and($f->capacity['ah'])
        ->toEqualWithDelta(dialectTruth()['ah'], 0.005)
        ->and($f->capacity['temperature_c'])
        ->toEqualWithDelta(24.0, 0.1);
});

it('finds the sign after a rest that is longer than its head, and says why', function (): void {
    $rest = implode('', array_map(fn(int $k): string => sprintf("%d,3.10000,0.00000\n", 10 * $k - 200000), range(0, 19999)));
    $text =
        "Time (s),Voltage (V),Current (A)\n" .
        $rest .
        str_replace("h\n", '', dialect("h\n", fn(array $r): string => sprintf('%d,%.5f,%.5f', $r['t'], $r['v'], -$r['i'])));
    expect(strpos($text, '0.56'))->toBeGreaterThan(65536);
    [$map, $f] = readDialect($text);
    expect($map->sign)
        ->toBe(-1.0)
        ->and(implode('; ', $map->notes))
        ->toContain('discharge is positive: the voltage moves against the current')
        ->and(array_column($f->steps, 'kind'))
        ->toBe(['rest', 'charge', 'rest', 'discharge', 'rest']);
});

it('finds the sign of a long log whose steps fall between what is looked at', function (float $sign): void {
    $rows = '';
    for ($k = 0; $k < 60000; $k++) {
        $a = [0.0, 0.6, 0.0, -0.6][intdiv($k, 3750) % 4];
        $rows .= sprintf("%.1f,%.4f,%.4f\n", $k * 0.5, 3.6 + 0.05 * $a + 0.0002 * sin($k / 900), $sign * $a);
    }
    [$map, $f] = readDialect("Time (s),Voltage (V),Current (A)\n" . $rows);
    expect($map->sign)->toBe($sign)->and($f->steps[1]['kind'])->toBe('charge');
})->with([1.0, -1.0]);

it('asks what nobody but a person can tell, and reads on with the answer', function (
    string $text,
    string $field,
    string $question,
    array $said,
): void {
    $f = fopen('php://temp', 'r+');
    fwrite($f, $text);
    $terms = LogTerms::of(Chemistry::Nmc, DIALECT_AH);
    $map = LogReader::mapping($f, $terms);
    expect(array_column($map->asks, 'field'))
        ->toBe([$field])
        ->and($map->asks[0]['text'])
        ->toContain($question);
    expect(fn() => LogReader::figures($f, $map, $terms))->toThrow(LogProblem::class, $question);
    $answered = LogReader::mapping($f, $terms, $said);
    expect($answered->asks)->toBe([])->and(LogReader::figures($f, $answered, $terms)->rows)->toBeGreaterThan(10);
})->with([
    'a flat curve, charged and discharged without a rest between' => [
        "Time (s),Voltage (V),Current (A)\n" .
        implode('', array_map(fn(int $k): string => sprintf("%d,3.3000,%.2f\n", 10 * $k, $k % 200 < 100 ? 1 : -1), range(0, 999))),
        'sign',
        'charge or discharge is written as positive: say which',
        ['sign' => -1],
    ],
    'no sign and no column that tells' => [
        "Time (s),Voltage (V),Current (A)\n" .
        implode('', array_map(fn(array $r): string => sprintf("%d,%.5f,%.5f\n", $r['t'], $r['v'], abs($r['i'])), dialectRows())),
        'sign',
        'Its current has no sign, and no column tells which way it flows',
        ['sign' => -1],
    ],
    'dates that fit both ways' => [
        "DateTime,Voltage,Current\n" .
        implode(
            '',
            array_map(
                fn(int $k): string => sprintf(
                    "%02d/%02d/2026 10:%02d:00,%.4f,-1.0\n",
                    $k < 10 ? 3 : 5,
                    $k < 10 ? 3 : 5,
                    $k % 60,
                    4.0 - 0.01 * $k,
                ),
                range(0, 19),
            ),
        ),
        'dates',
        'Its dates can be read as',
        ['dates' => 'dmy'],
    ],
    'volts that no cell has' => [
        "Time (s),Voltage (V),Current (A)\n" .
        implode('', array_map(fn(int $k): string => sprintf("%d,%.3f,-0.5\n", 10 * $k, 40.0 - 0.01 * $k), range(0, 99))),
        'voltage',
        'which no cell has: choose the column of the voltage',
        ['columns' => ['voltage' => 1]],
    ],
    'a time in no unit that would fit' => [
        "Time,Voltage,Current\n" .
        implode('', array_map(fn(int $k): string => sprintf("%d,%.4f,-0.5\n", 900000 * $k, 4.0 - 0.01 * $k), range(0, 99))),
        'time',
        'The unit of its time is not said',
        ['scale' => ['time' => 0.001]],
    ],
]);

it('reads a clock', function (string $text, ?float $s): void {
    expect(TimeText::clock($text))->toBe($s);
})->with([
    ['01:02:03', 3723.0],
    ['1:02', 3720.0],
    ['62:03.5', 3723.5],
    ['2d 00:00:01', 172801.0],
    ['1 day, 00:00:01', 86401.0],
    ['1.00:00:01', 86401.0],
    ['12:00:01 AM', 1.0],
    ['12:00:01 p.m.', 43201.0],
    ['00:00:01,25', 1.25],
    ['3.7', null],
    ['noon', null],
]);

it('reads a date with its time', function (string $text, string $order, ?string $at): void {
    $s = TimeText::stamp($text, $order);
    expect($s === null ? null : gmdate('Y-m-d H:i:s', (int) $s))->toBe($at);
})->with([
    ['03/04/2026 10:00:00', 'dmy', '2026-04-03 10:00:00'],
    ['03/04/2026 10:00:00', 'mdy', '2026-03-04 10:00:00'],
    ['26-04-03 10:00', 'ymd', '2026-04-03 10:00:00'],
    ['2026-04-03T10:00:00+02:00', 'dmy', '2026-04-03 08:00:00'],
    ['2026-04-03T10:00:00-02:30', 'dmy', '2026-04-03 12:30:00'],
    ['31/02/2026 10:00:00', 'dmy', null],
    ['3-Apr-2026 10:00:00', 'dmy', '2026-04-03 10:00:00'],
]);

it('takes the order of a date in which a log goes on', function (array $dates, array $orders): void {
    expect(TimeText::orders($dates))->toBe($orders);
})->with([
    'one day after another, day first' => [[[3, 4, 2026], [4, 4, 2026]], ['dmy']],
    'one day after another, month first' => [[[4, 3, 2026], [4, 4, 2026]], ['mdy']],
    'no month has that number' => [[[4, 13, 2026]], ['mdy']],
    'one date alone needs no order' => [[[3, 4, 2026]], ['dmy']],
    'the year first' => [[[2026, 4, 3], [2026, 4, 4]], ['ymd']],
    'nothing tells' => [[[3, 3, 2026], [5, 5, 2026]], ['dmy', 'mdy']],
    'none' => [[[99, 99, 2026]], []],
]);

it('knows the way of a step by its name in many tongues', function (string $name, int $way): void {
    expect(Heartwood\Core\Log\Directions::said($name))->toBe($way);
})->with([
    ['CC_DChg', -1],
    ['Discharge', -1],
    ['Entladen', -1],
    ['Décharge', -1],
    ['Scarica', -1],
    ['Rozładowanie', -1],
    ['D', -1],
    ['разряд', -1],
    ['CC-CV', 1],
    ['Charge', 1],
    ['Laden', 1],
    ['Carica', 1],
    ['C', 1],
    ['заряд', 1],
    ['Rest', 0],
    ['Pause', 0],
    ['OCV', 0],
    ['CC', 0],
    ['7', 0],
    ['', 0],
]);

it('knows when a log was taken where its own time says it', function (string $header, Closure $time, ?string $began): void {
    $text = dialect("$header\n", fn(array $r): string => sprintf('%s,%.5f,%.5f', $time($r['t']), $r['v'], $r['i']));
    expect(readDialect($text)[1]->toArray()['began_at'])->toBe($began);
})->with([
    'a date' => ['DateTime,Voltage,Current', fn(int $t): string => gmdate('d.m.Y H:i:s', 1763000000 + $t), '2025-11-13T02:13:20Z'],
    'seconds since 1970' => ['Time,Voltage,Current', fn(int $t): string => (string) (1763000000 + $t), '2025-11-13T02:13:20Z'],
    'a clock' => ['Time,Voltage,Current', fn(int $t): string => clockOf($t), null],
    'seconds' => ['Time (s),Voltage,Current', fn(int $t): string => (string) $t, null],
]);
