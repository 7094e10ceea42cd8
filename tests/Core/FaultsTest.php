<?php

declare(strict_types=1);

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Diagnosis\Priors;
use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Fault\Family;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Fault\GroupFault;
use Heartwood\Core\Feature\Feature;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Feature\RestFeature;
use Heartwood\Core\Inference\Background;
use Heartwood\Core\Inference\Chance;
use Heartwood\Core\Inference\Dice;
use Heartwood\Core\Inference\Law;
use Heartwood\Core\Inference\RestLaw;
use Heartwood\Core\Inference\Situation;
use Heartwood\Core\Inference\Switching;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;
use Heartwood\Core\Rules;
use Tests\Core\Bench;

function plainSituation(string $chemistry = 'nmc', int $parallel = 4): Situation
{
    return new Situation(
        PackSpec::from(new Fields(['chemistry' => $chemistry, 'series' => 8, 'parallel' => $parallel, 'cell' => ['capacity_ah' => 2.5]])),
        3.8,
        0.6,
    );
}

/** Kinds whose law is over a number of its own, and the span to integrate over. */
const SPANS = [
    'leak' => [-1.0, 2.0],
    'refill' => [-1.0, 2.0],
    'resistance' => [-3.0, 9.0],
    'capacity' => [-0.5, 2.0],
    'cells' => [-2.0, 7.0],
    'top' => [-1.0, 1.0],
    'bottom' => [-1.5, 2.0],
    'stays' => [-0.6, 0.8],
    'jump' => [-0.6, 3.6],
];

it('knows every code of the handbook once, each in a file of its own with words, tests that exist and a home', function (): void {
    $files = glob(dirname(__DIR__, 2) . '/core/Fault/*/*.php') ?: [];
    expect(count(Faults::all()))->toBe(count($files));
    foreach (Faults::all() as $code => $fault) {
        expect($code)
            ->toMatch('/^[a-z]+\.[a-z-]+$/')
            ->and($fault->words()->title)
            ->not->toBe('')
            ->and(str_contains($fault->words()->title, '%d'))
            ->toBe($fault->placeKind() !== 'pack')
            ->and($fault->words()->titleAt(7))
            ->not->toContain('%d')
            ->and($fault->words()->anywhere())
            ->not->toContain('%d')
            ->and(in_array($fault->placeKind(), ['pack', 'group', 'joint', 'tap'], true))
            ->toBeTrue()
            ->and($fault instanceof GroupFault)
            ->toBe($fault->placeKind() === 'group');
    }
    expect(fn() => Faults::of('group.imaginary'))->toThrow(OutOfBoundsException::class);
});

it('gives the severities of the handbook', function (string $severity, array $codes): void {
    foreach ($codes as $code) {
        expect(Faults::of($code)->severity())->toBe(Severity::from($severity), $code);
    }
})->with([
    [
        'stop',
        [
            'group.dead',
            'group.reversed',
            'cell.swollen',
            'cell.leaking',
            'cell.hot',
            'bms.no-overcharge-cut',
            'sense.shifted',
            'pack.spread',
        ],
    ],
    ['watch', ['bms.drain', 'gauge.stale']],
    ['note', ['label.inconsistent', 'reading.inconsistent', 'reading.phantom', 'bms.protecting', 'bms.asleep', 'pack.discharged']],
    ['fix', ['group.undercharged', 'group.low-capacity', 'joint.high-resistance', 'pack.deep-discharged', 'path.fuse-open', 'bms.latched']],
]);

it('integrates to one whatever a state predicts of a number', function (string $kind): void {
    [$low, $high] = SPANS[$kind];
    $step = 0.002;
    foreach (Faults::groups() as $code => $fault) {
        $law = $fault->signature(FeatureKind::from($kind), plainSituation());
        if ($law === null) {
            continue;
        }
        $sum = 0.0;
        for ($x = $low; $x < $high; $x += $step) {
            $sum += $step * $law->density(new Feature(FeatureKind::from($kind), $x, 0.02, 0.02, through: 0.05));
        }
        expect($sum)->toEqualWithDelta(1.0, 0.06, "$code of $kind");
    }
})->with(array_keys(SPANS));

it('gives the outcomes of a test chances that add up', function (): void {
    $outcomes = ['weld' => ['loose', 'holds'], 'strips' => ['one draws', 'none draws'], 'recovery' => ['rises', 'hangs', 'falls', 'sinks']];
    foreach ($outcomes as $kind => $of) {
        foreach (Faults::groups() as $code => $fault) {
            $law =
                $fault->signature(FeatureKind::from($kind), plainSituation()) ??
                Faults::of('group.ok')->signature(FeatureKind::from($kind), plainSituation());
            $sum = array_sum(array_map(fn(string $o): float => $law->density(Feature::outcome(FeatureKind::from($kind), $o)), $of));
            expect($sum)
                ->toBeGreaterThan(0.9)
                ->toBeLessThan(1.1, "$code of $kind");
        }
    }
});

it('draws from the law it judges by: what a state predicts looks likeliest under that state', function (string $code, string $kind): void {
    $situation = plainSituation();
    $own = Faults::of($code)->signature(FeatureKind::from($kind), $situation);
    $sound = Faults::of('group.ok')->signature(FeatureKind::from($kind), $situation);
    $dice = new Dice();
    $better = 0;
    for ($i = 0; $i < 50; $i++) {
        $seen = $own->sample($dice, new Feature(FeatureKind::from($kind), 0.0, 0.01, 0.01));
        $better += $own->density($seen) > $sound->density($seen) ? 1 : 0;
    }
    expect($better)->toBeGreaterThan(30);
})->with([
    ['group.self-discharge', 'leak'],
    ['group.self-discharge', 'refill'],
    ['group.low-capacity', 'capacity'],
    ['group.missing-cell', 'capacity'],
    ['group.high-resistance', 'resistance'],
    ['group.missing-cell', 'weld'],
    ['group.dead', 'recovery'],
    ['group.overcharged', 'stays'],
    ['group.high-resistance', 'cells'],
    ['group.low-capacity', 'bottom'],
]);

it('is drawn the same way every time, over the whole of its law', function (): void {
    $draw = function (): array {
        $dice = new Dice();

        return array_map(fn(): float => Law::over()->flat(0.5, 0.0, 1.0)->bell(0.5, 5.0, 0.1)->value($dice), range(1, 200));
    };
    $values = $draw();
    expect($draw())
        ->toBe($values)
        ->and(count(array_filter($values, fn(float $v): bool => $v > 4.0)))
        ->toBeGreaterThan(70)
        ->toBeLessThan(130)
        ->and(min($values))
        ->toBeGreaterThanOrEqual(0.0)
        ->and(max($values))
        ->toBeLessThan(5.6);
});

it('reads a rest voltage by charge, by volts, and not at all where it may be a slip', function (): void {
    $s = plainSituation();
    $ok = Faults::of('group.ok')->signature(FeatureKind::Rest, $s);
    $low = Faults::of('group.undercharged')->signature(FeatureKind::Rest, $s);
    $level = new RestFeature(3.8, 0.003, 0.0, 0.005);
    $behind = new RestFeature(3.68, 0.003, -0.15, 0.005);
    expect($ok->density($level))
        ->toBeGreaterThan(10 * $low->density($level))
        ->and($low->density($behind))
        ->toBeGreaterThan(100 * $ok->density($behind));
    $doubted = new RestFeature(3.68, 0.003, -0.15, 0.005, doubt: 1.0);
    expect($low->density($doubted))->toEqualWithDelta($ok->density($doubted), 1e-9);
    $past = new RestFeature(4.27, 0.003, 0.3, 0.005);
    expect(Faults::of('group.overcharged')->signature(FeatureKind::Rest, $s)->density($past))->toBeGreaterThan($ok->density($past));
    expect((new RestLaw($s, Law::over()->bell(1.0, -0.1, 0.001)))->sample(new Dice(), $level)->x)->toBeLessThan(3.8);
});

it('moves the centre of a small group with what went through the pack', function (): void {
    $law = Faults::of('group.missing-cell')->signature(FeatureKind::Leak, plainSituation(parallel: 3));
    $at = fn(float $x, float $through): float => $law->density(new Feature(FeatureKind::Leak, $x, 0.001, 0.001, through: $through));
    expect($at(0.05, 0.1))
        ->toBeGreaterThan(10 * $at(0.0, 0.1))
        ->and($at(0.0, 0.0))
        ->toBeGreaterThan(10 * $at(0.05, 0.0));
});

it('has a prior for every family, moved by the shop\'s own jobs, and a moved prior moves the verdict', function (): void {
    $handbook = Priors::handbook();
    foreach (Family::cases() as $family) {
        $members = array_filter(Faults::all(), fn(Fault $f): bool => $f->family() === $family && $f->share() > 0.0);
        expect($family === Family::Derived ? $members === [] : $members !== [])
            ->toBeTrue($family->value)
            ->and($handbook->family($family))
            ->toEqualWithDelta($family->prior(), 1e-9);
    }
    expect(array_sum(array_map($handbook->family(...), Family::cases())))->toEqualWithDelta(0.9, 1e-9);
    foreach (
        [
            ['path.fuse-open', Bench::record(array_fill(0, 8, 3.8), [], ['symptoms' => ['dead-output']])],
            ['bms.charge-dead', Bench::record(array_fill(0, 8, 3.8), [], ['symptoms' => ['will-not-charge']])],
            ['joint.high-resistance', weakUnderLoad()],
            ['group.self-discharge', Bench::record([3.8, 3.8, 3.8, 3.8, 3.65, 3.8, 3.8, 3.8])],
        ]
        as [$code, $record]
    ) {
        $with = fn(Priors $p): float => Bench::probability(
            Heartwood\Core\Diagnosis\Diagnoser::diagnose(Bench::parse($record), '', $p),
            $code,
        );
        expect($with(Priors::from([$code => 60])))->toBeGreaterThan($with($handbook) + 0.05, $code);
    }
});

/** @return array<string, mixed> a pack with one group that sags, cells or joint */
function weakUnderLoad(): array
{
    $record = Bench::record(array_fill(0, 8, 3.8));
    $record['measurements'][] = [
        'id' => 'm2',
        'at' => '2026-05-04T10:00:00Z',
        'condition' => 'discharge',
        'current_a' => -5.0,
        'ambient_c' => 20,
        'instrument' => Bench::meter(),
        'readings' => Bench::readings([3.73, 3.73, 3.73, 3.68, 3.73, 3.73, 3.73, 3.73]),
    ];

    return $record;
}

it('explains a complaint by any one cause, and what was measured outright stands beside it', function (): void {
    $net = function (callable $do): Switching {
        $n = new Switching(plainSituation());
        $n->cause('path.fuse-open', 0.03);
        $n->cause('bms.latched', 0.04, 1.0, 'board');
        $n->cause('bms.output-dead', 0.03, 1.0, 'board');
        $do($n);
        $n->solve();

        return $n;
    };
    $quiet = $net(fn(Switching $n) => null);
    expect($quiet->p('path.fuse-open'))->toEqualWithDelta(0.03, 1e-6);
    $dead = $net(fn(Switching $n) => $n->complaint(0.001));
    expect($dead->p('path.fuse-open') + $dead->p('bms.latched') + $dead->p('bms.output-dead'))
        ->toBeGreaterThan(0.95)
        ->toBeLessThan(1.06);
    $open = $net(function (Switching $n): void {
        $n->complaint(0.001);
        $n->see(Feature::outcome(FeatureKind::Fuse, 'open', 'the fuse is open'));
    });
    expect($open->p('path.fuse-open'))
        ->toBeGreaterThan(0.97)
        ->and($open->p('bms.latched'))
        ->toBeLessThan(0.06)
        ->and($open->evidence('path.fuse-open')[0]->text)
        ->toBe('the fuse is open');
    $both = $net(function (Switching $n): void {
        $n->complaint(0.001);
        $n->see(Feature::outcome(FeatureKind::Fuse, 'open'));
        $n->see(Feature::outcome(FeatureKind::Pulse, 'woke'));
    });
    expect($both->p('bms.output-dead'))->toBeLessThan(0.01);
    $good = $net(function (Switching $n): void {
        $n->complaint(0.001);
        $n->see(Feature::outcome(FeatureKind::Fuse, 'conducts'));
    });
    expect($good->p('path.fuse-open'))->toBeLessThan(0.01)->and($good->p('bms.latched'))->toBeGreaterThan($dead->p('bms.latched'));
    // A test that can tell takes entropy away; one that nothing speaks of takes none.
    $offer = $dead->offer(Heartwood\Core\Diagnosis\TestKind::Continuity, 'the fuse', FeatureKind::Fuse, ['open', 'conducts']);
    $idle = $dead->offer(Heartwood\Core\Diagnosis\TestKind::Sensor, 'the sensor', FeatureKind::Sensor, ['off', 'right']);
    expect($offer->gainBits)->toBeGreaterThan(0.3)->and($idle->gainBits)->toBeLessThan(1e-9);
});

it('gives what the others leave to an outcome without a word of its own', function (): void {
    $c = new Chance(['reported' => 0.3]);
    expect($c->density(Feature::outcome(FeatureKind::Flag, 'reported')))
        ->toBe(0.3)
        ->and($c->density(Feature::outcome(FeatureKind::Flag, 'none')))
        ->toEqualWithDelta(0.7, 1e-9)
        ->and(Background::of(FeatureKind::Fuse)->density(Feature::outcome(FeatureKind::Fuse, 'open')))
        ->toBeLessThan(0.01);
});

it('offers no work that the pack forbids: remedies look at what else was found', function (): void {
    $case = function (array $volts, array $findings): RepairCase {
        $record = Bench::parse(Bench::record($volts));

        return new RepairCase($record->pack, new PackEvidence($record), null, $findings);
    };
    $found = fn(string $code, float $p, ?Place $at = null): Finding => new Finding($code, '', $at ?? Place::pack(), $p, Severity::Fix, []);
    $actions = fn(string $code, RepairCase $c, ?Place $at = null): array => array_map(
        fn($o): RepairAction => $o->action,
        Faults::of($code)->remedies($found($code, 0.9, $at), $c),
    );
    $level = $case([3.8, 3.8, 3.7, 3.8], []);
    expect($actions('group.undercharged', $level, Place::group(3)))->toBe([RepairAction::ChargeGroup]);
    expect(
        $actions('group.undercharged', $case([3.8, 3.8, 3.7, 3.8], [$found('group.dead', 0.2, Place::group(3))]), Place::group(3)),
    )->toBe([RepairAction::ReplaceGroup]);
    expect($actions('group.undercharged', $case([3.8, 3.8, 1.4, 3.8], []), Place::group(3)))->toBe([RepairAction::ReplaceGroup]);
    expect($actions('group.deep-discharged', $case([3.8, 3.8, 1.5, 3.8], []), Place::group(3)))->toContain(RepairAction::RecoverGroup);
    expect($actions('group.deep-discharged', $case([3.8, 3.8, 1.49, 3.8], []), Place::group(3)))->not->toContain(
        RepairAction::RecoverGroup,
    );
    expect($actions('group.overcharged', $case([3.8, 3.8, 4.2, 3.8], []), Place::group(3)))->toBe([RepairAction::Balance]);
    expect($actions('group.overcharged', $case([3.8, 3.8, 4.21, 3.8], []), Place::group(3)))->toBe([RepairAction::ReplaceGroup]);
    $alike = [2.4, 2.41, 2.39, 2.4];
    expect($actions('pack.deep-discharged', $case($alike, [])))->toBe([RepairAction::RecoverGroup, RepairAction::RecoverPack]);
    expect($actions('pack.deep-discharged', $case([2.4, 2.41, 1.49, 2.4], [])))
        ->toBe([])
        ->and($actions('pack.deep-discharged', $case($alike, [$found('group.dead', 0.2, Place::group(2))])))
        ->toBe([]);
    expect($actions('pack.discharged', $case([2.9, 2.9, 2.9, 2.9], [])))->toBe([RepairAction::ChargePack]);
    expect($actions('pack.discharged', $case([2.9, 2.9, 2.79, 2.9], [])))
        ->toBe([])
        ->and($actions('pack.discharged', $case([2.9, 2.9, 2.81, 2.9], [])))
        ->toBe([RepairAction::ChargePack])
        ->and($actions('pack.discharged', $case([2.9, 2.9, 2.9, 2.9], [$found('pack.spread', 0.1)])))
        ->toBe([]);
    expect($actions('bms.output-dead', $level))
        ->toBe([RepairAction::ReplaceBoard])
        ->and($actions('bms.output-dead', $case([3.8, 3.8], [$found('sense.shifted', 0.5)])))
        ->toBe([]);
    expect($actions('gauge.stale', $level))
        ->toBe([RepairAction::RelearnGauge])
        ->and($actions('gauge.stale', $case([3.8, 3.8], [$found('pack.spread', 0.5)])))
        ->toBe([]);
    expect($actions('pack.aged', $level))->toBe([RepairAction::Rebuild, RepairAction::LighterDuty]);
});

it('knows the version of its rules by what they say', function (): void {
    exec('php ' . escapeshellarg(dirname(__DIR__, 2) . '/bin/rules.php') . ' --check', $out, $code);
    expect($code)->toBe(0, 'the rules have changed: run php bin/rules.php')->and(Rules::VERSION)->toMatch('/^[0-9a-f]{12}$/');
});

it('takes a fault more by one file: it is believed, asked about and mended', function (): void {
    $root = dirname(__DIR__, 2);
    $copy = sys_get_temp_dir() . '/heartwood-fault-' . getmypid();
    exec('cp -r ' . escapeshellarg("$root/core") . ' ' . escapeshellarg($copy));
    file_put_contents(
        "$copy/Fault/Path/Relay.php",
        <<<'PHP'
        <?php
        namespace Heartwood\Core\Fault\Path;
        use Heartwood\Core\Diagnosis\{Finding, TestKind};
        use Heartwood\Core\Fault\{Family, Fault, Words};
        use Heartwood\Core\Feature\FeatureKind;
        use Heartwood\Core\Inference\{Chance, Signature, Situation};
        use Heartwood\Core\Repair\{RepairAction, RepairCase};
        final class Relay extends Fault
        {
            public function code(): string { return 'path.relay'; }
            public function words(): Words
            {
                return new Words('The relay does not close', 'The relay between string and output stays open.', 'volts reach the output');
            }
            public function family(): Family { return Family::Path; }
            public function share(): float { return 0.5; }
            public function deadens(): float { return 1.0; }
            public function tests(): array { return [TestKind::Flex]; }
            public function signature(FeatureKind $kind, Situation $situation): ?Signature
            {
                return $kind === FeatureKind::Flex ? new Chance(['changes' => 0.9, 'same' => 0.1]) : null;
            }
            public function remedies(Finding $finding, RepairCase $case): array
            {
                return [$case->act(RepairAction::RepairPath, $finding, 'A new relay.')];
            }
        }
        PHP
        ,
    );
    $record = Bench::record(
        array_fill(0, 6, 3.8),
        [],
        [
            'symptoms' => ['dead-output'],
            'tests' => [
                ['kind' => 'flex', 'element' => 'connector', 'changed' => true],
                ['kind' => 'continuity', 'element' => 'fuse', 'ohm' => 0.01],
                ['kind' => 'continuity', 'element' => 'switch', 'ohm' => 0.01],
                ['kind' => 'continuity', 'element' => 'connector', 'ohm' => 0.01],
            ],
        ],
    );
    // The copy of the rules before the real ones, whatever the class map says.
    $script =
        'require ' .
        var_export("$root/vendor/autoload.php", true) .
        '; spl_autoload_register(function ($c) { $f = ' .
        var_export($copy, true) .
        '.strtr(substr($c, 14), "\\\\", "/").".php"; if (str_starts_with($c, "Heartwood\\\\Core\\\\") && is_file($f)) { require ' .
        '$f; } }, true, true);' .
        'echo ' .
        'json_encode(Heartwood\Core\Diagnosis\Diagnoser::diagnose(' .
        'App\Contract\RecordReader::read(stream_get_contents(STDIN))["record"])->toArray());';
    $process = proc_open([PHP_BINARY, '-r', $script], [['pipe', 'r'], ['pipe', 'w'], ['pipe', 'w']], $pipes);
    fwrite($pipes[0], (string) json_encode($record));
    fclose($pipes[0]);
    $verdict = json_decode((string) stream_get_contents($pipes[1]), true);
    proc_close($process);
    exec('rm -rf ' . escapeshellarg($copy));
    $found = array_column($verdict['findings'] ?? [], 'probability', 'code');
    expect($found['path.relay'] ?? 0.0)
        ->toBeGreaterThan(0.4)
        ->and(array_column($verdict['options'], 'action'))
        ->toContain('repair-path');
});
