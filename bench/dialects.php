<?php

declare(strict_types=1);

// Logs of known truth written in dialects drawn by chance: right, refused with a reason, or wrong: bench/dialects [LOGS] [SEED]

use Heartwood\Core\Log\LogProblem;
use Heartwood\Core\Log\LogReader;
use Heartwood\Core\Log\LogTerms;
use Heartwood\Core\Pack\Chemistry;

require __DIR__ . '/../vendor/autoload.php';

$count = (int) ($argv[1] ?? 500);
mt_srand((int) ($argv[2] ?? 20261129));
$one = fn(array $of): mixed => $of[mt_rand(0, count($of) - 1)];
$chance = fn(float $p): bool => mt_rand() / mt_getrandmax() < $p;
$noise = fn(float $sigma): float => $sigma *
    sqrt(-2 * log(max(1e-9, mt_rand() / mt_getrandmax()))) *
    cos((2 * M_PI * mt_rand()) / mt_getrandmax());

/** A log as it was: rows of seconds, volts, amps, degC and state; and what its main discharge gave to the cut-off. */
$truth = function () use ($one, $chance, $noise): array {
    $chemistry = $one([Chemistry::Nmc, Chemistry::Nmc, Chemistry::Lfp]);
    $profile = $chemistry->profile();
    $rated = $one([0.5, 1.1, 2.5, 2.9, 3.4, 5.0, 20.0, 100.0]);
    $series = $chance(0.2) ? $one([3, 4, 10]) : 1;
    $ah = $rated * $one([1.0, 0.95, 0.8, 0.6]);
    $step = $one([1, 2, 5, 10, 10, 30, 60]);
    $step = max($step, 5);
    $ohm = (0.12 / $rated) * 0.5;
    [$top, $low] = [$profile->fullV, $profile->testCutoffV - 0.1];
    $open =
        $chemistry === Chemistry::Lfp
            ? fn(float $s): float => 3.28 + 0.03 * $s - 0.75 * exp(-$s / 0.03) + 0.33 * exp(($s - 1) / 0.015)
            : fn(float $s): float => $low + ($top - $low) * $s;
    $amps = ($rated / 5) * $one([1.0, 0.8, 1.2]);
    $grain = $one([1e-5, 1e-4, 1e-3]);
    $rough = $one([0.0, 0.0003, 0.001]);
    $rows = [];
    $soc = $one([0.1, 0.4, 0.7]);
    $given = 0.0;
    $at = null;
    $add = function (float $i, string $state) use (
        &$rows,
        &$soc,
        &$given,
        &$at,
        $open,
        $ohm,
        $step,
        $ah,
        $series,
        $grain,
        $rough,
        $profile,
        $noise,
    ): void {
        $v = $open($soc) + $i * $ohm;
        $rows[] = [
            $step * count($rows),
            round(($series * ($v + $noise($rough))) / $grain) * $grain,
            $i,
            $state === 'out' ? 25.0 : 22.0,
            $state,
        ];
        if ($state === 'out') {
            if ($at === null && $v <= $profile->testCutoffV) {
                $at = $given;
            }
            $given += (-$i * $step) / 3600;
        }
        $soc += ($i * $step) / 3600 / $ah;
    };
    $rest = fn(int $n) => array_map(fn(int $k) => $add(0.0, 'rest'), range(1, max(1, $n)));
    $rest($one([1, 20, 60, 4000]));
    $charged = $chance(0.75);
    if ($charged) {
        $c = $rated * $one([0.3, 0.5]);
        while ($soc < 1.2 && ($i = min($c, ($top - $open($soc)) / $ohm)) > $rated / 22) {
            $add($i, 'in');
        }
        $rest($one([2, 60, 300]));
    } else {
        $soc = 0.99;
        $rest(5);
    }
    while ($open($soc) - $amps * $ohm > $profile->testCutoffV - 0.03) {
        $add(-$amps, 'out');
    }
    $rest($one([1, 60]));

    return [$rows, LogTerms::of($chemistry, $rated, $series), $at ?? $given, $step, $charged];
};

/** The same as some tester writes it. */
$written = function (array $rows, int $step) use ($one, $chance): array {
    $how = [];
    $pick = function (string $what, array $of) use (&$how, $one): string {
        return $how[$what] = $one($of);
    };
    $time = $pick('time', [
        's',
        's',
        'min',
        'h',
        'ms',
        'epoch',
        'epoch-ms',
        'serial',
        'clock',
        'clock-days',
        'clock-12',
        'iso',
        'dmy',
        'mdy',
        'silent-min',
        'silent-h',
        'silent-s',
        'silent-ms',
    ]);
    $unit = $pick('unit', ['V A', 'V A', 'mV mA', 'silent', 'silent mV mA']);
    $current = $pick('current', ['signed', 'signed', 'turned', 'two', 'names', 'codes', 'words', 'bare']);
    $sep = $pick('sep', [',', ';', "\t", '|']);
    $comma = $sep !== ',' && $chance(0.3);
    $how['comma'] = $comma ? 'yes' : 'no';
    $end = $pick('end', ["\n", "\r\n", "\r"]);
    $code = $pick('code', ['UTF-8', 'UTF-8', 'UTF-16LE', 'UTF-16LE bare', 'Windows-1252']);
    $head = $pick('head', ['(', '[', '/', '_']);
    $warm = $chance(0.6);
    [$v1000, $tu, $vu, $au] = [
        str_contains($unit, 'mV') ? 1000.0 : 1.0,
        match (true) {
            in_array($time, ['s', 'min', 'h', 'ms'], true) => $time,
            default => '',
        },
        str_contains($unit, 'silent') ? '' : (str_contains($unit, 'mV') ? 'mV' : 'V'),
        str_contains($unit, 'silent') ? '' : (str_contains($unit, 'mA') ? 'mA' : 'A'),
    ];
    $name = fn(string $n, string $u): string => $u === ''
        ? $n
        : match ($head) {
            '(' => "$n ($u)",
            '[' => "$n [$u]",
            '/' => "$n / $u",
            default => str_replace(' ', '_', $n) . "_$u",
        };
    $states = match ($current) {
        'names' => ['rest' => 'Rest', 'in' => 'CC-CV charge', 'out' => 'CC discharge'],
        'codes' => ['rest' => '0', 'in' => '3', 'out' => '7'],
        'words' => ['rest' => 'aa', 'in' => 'bb', 'out' => 'cc'],
        default => null,
    };
    $names = [$name($one(['Test time', 'Time', 'Elapsed time']), $tu)];
    $states === null ?: ($names[] = $one(['Step', 'Status', 'Mode', 'Phase']));
    $names[] = $name($one(['Voltage', 'Cell voltage', 'U']), $vu);
    $current === 'two'
        ? array_push($names, $name('Charge current', $au), $name('Discharge current', $au))
        : ($names[] = $name($one(['Current', 'I']), $au));
    $warm ? ($names[] = $name('Temperature', $one(['C', 'degC']))) : null;
    $zero = 1780000000 + 86400 * mt_rand(0, 300) + mt_rand(0, 86399);
    $number = fn(float $x, int $digits): string => $comma
        ? str_replace('.', ',', sprintf("%.{$digits}f", $x))
        : sprintf("%.{$digits}f", $x);
    $clock = fn(int $t): string => sprintf('%02d:%02d:%02d', intdiv($t, 3600), intdiv($t, 60) % 60, $t % 60);
    $lines = [implode($sep, $names)];
    foreach ($rows as [$t, $v, $i, $c, $state]) {
        $cells = [
            match ($time) {
                's', 'silent-s' => $number($t, 1),
                'min', 'silent-min' => $number($t / 60, 6),
                'h', 'silent-h' => $number($t / 3600, 8),
                'ms', 'silent-ms' => (string) (1000 * $t),
                'epoch' => (string) ($zero + $t),
                'epoch-ms' => $zero + $t . '000',
                'serial' => $number(25569 + ($zero + $t) / 86400, 8),
                'clock' => $clock($t),
                'clock-days' => intdiv($t, 86400) . 'd ' . $clock($t % 86400),
                'clock-12' => gmdate('h:i:s A', $zero + $t),
                'iso' => gmdate('Y-m-d H:i:s', $zero + $t),
                'dmy' => gmdate('d/m/Y H:i:s', $zero + $t),
                default => gmdate('m/d/Y H:i:s', $zero + $t),
            },
        ];
        $states === null ?: ($cells[] = $states[$state]);
        $cells[] = $number($v * $v1000, $v1000 > 1 ? 2 : 5);
        $a = fn(float $x): string => $number($x * $v1000, $v1000 > 1 ? 2 : 5);
        match ($current) {
            'signed' => ($cells[] = $a($i)),
            'turned' => ($cells[] = $a(-$i)),
            'two' => array_push($cells, $a(max(0.0, $i)), $a(max(0.0, -$i))),
            default => ($cells[] = $a(abs($i))),
        };
        $warm ? ($cells[] = $number($c, 1)) : null;
        $lines[] = implode($sep, $cells);
    }
    $text = implode($end, $lines) . $end;
    $text = match ($code) {
        'UTF-16LE' => "\xFF\xFE" . mb_convert_encoding($text, 'UTF-16LE', 'UTF-8'),
        'UTF-16LE bare' => mb_convert_encoding($text, 'UTF-16LE', 'UTF-8'),
        'Windows-1252' => mb_convert_encoding($text, 'Windows-1252', 'UTF-8'),
        default => $text,
    };

    return [$text, $how, $warm];
};

$right = $refused = $wrong = 0;
$why = [];
for ($n = 1; $n <= $count; $n++) {
    [$rows, $terms, $ah, $step] = $truth();
    [$text, $how, $warm] = $written($rows, $step);
    $f = fopen('php://temp', 'r+');
    fwrite($f, $text);
    try {
        $map = LogReader::mapping($f, $terms);
        $capacity = LogReader::figures($f, $map, $terms)->capacity;
        $close = $capacity !== null && abs($capacity['ah'] - $ah) <= max(0.005 * $ah, (0.6 * $step * $ah) / 18000);
        $warmth = !$warm || ($capacity !== null && abs(($capacity['temperature_c'] ?? 0.0) - 25.0) < 0.2);
        if ($close && $warmth) {
            $right++;
        } elseif ($capacity !== null && !$capacity['believed']) {
            $refused++;
            $why['not believed: ' . preg_replace('/[\d.]+/', '#', $capacity['missing'][0])] =
                ($why['not believed: ' . preg_replace('/[\d.]+/', '#', $capacity['missing'][0])] ?? 0) + 1;
        } else {
            $wrong++;
            printf(
                "WRONG %d: %.4f Ah, was %.4f (%s) %s; %s\n",
                $n,
                $capacity['ah'] ?? 0,
                $ah,
                json_encode($capacity['temperature_c'] ?? null),
                json_encode($how),
                implode('; ', $map->notes),
            );
        }
    } catch (LogProblem $e) {
        $refused++;
        getenv('SHOW') &&
            str_contains($e->getMessage(), getenv('SHOW')) &&
            (print json_encode($how) . " rated {$terms->ratedAh} S{$terms->series} step $step rows " . count($rows) . "\n");
        $text = preg_replace('/[\d.]+/', '#', $e->getMessage());
        $why[$text] = ($why[$text] ?? 0) + 1;
    }
    fclose($f);
}
arsort($why);
foreach ($why as $text => $k) {
    printf("refused %d: %s\n", $k, $text);
}
printf(
    "%d logs: %d right, %d refused with a reason, %d wrong (limit 0) %s\n",
    $count,
    $right,
    $refused,
    $wrong,
    $wrong === 0 ? 'ok' : 'FAIL',
);
exit($wrong === 0 ? 0 : 1);
