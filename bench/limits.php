<?php

declare(strict_types=1);

// Moves the numbers of the rules, one at a time, up and down, and runs the rules' tests against each: a number that can
// be moved and no test notices is no rule. Prints those, and exits 1 when there is one.
//   bench/limits                        every entry of the registers in core/Limits
//   bench/limits --changed              only entries that the last commit changed, or nobody committed yet (what ./heartwood test asks)
//   bench/limits --any 60 20261129      sixty numbers out of all of core, drawn with a seed: constants and bare ones
//   bench/limits core/Fault/Group/Ok.php core/Limits/RunLimits.php:TAIL_C    these files, or entries

use Heartwood\Core\Limits\Limit;
use PhpParser\Node;
use PhpParser\NodeTraverser;
use PhpParser\NodeVisitorAbstract;
use PhpParser\ParserFactory;

require dirname(__DIR__) . '/vendor/autoload.php';

const STEP = Limit::STEP;
const LONGEST_S = 300;
/** What notices most, and fastest, first: a number is tried on the next only when none before it noticed. */
const TESTS = [
    [
        'tests/Core/ProtocolTest.php',
        'tests/Core/DriftTest.php',
        'tests/Core/ServiceTest.php',
        'tests/Core/TopUpTest.php',
        'tests/Core/FleetTest.php',
        'tests/Core/WallTest.php',
        'tests/Core/BatchTest.php',
        'tests/Core/BackupTest.php',
        'tests/Core/TrainerLimitsTest.php',
        'tests/Core/TrainerProgressTest.php',
        'tests/Core/OwnerAnswerTest.php',
        'tests/Core/WorkTest.php',
        'tests/Core/RunLimitsTest.php',
        'tests/Core/ProofTest.php',
        'tests/Core/RecoveryTest.php',
        'tests/Core/BalanceTest.php',
        'tests/Core/FiguresTest.php',
        'tests/Core/VerdictLimitsTest.php',
    ],
    [
        'tests/Core/DealTest.php',
        'tests/Core/TrainerWorkTest.php',
        'tests/Core/ShapesTest.php',
        'tests/Core/WatchTest.php',
        'tests/Core/BuildTest.php',
        'tests/Core/LogTest.php',
        'tests/Core/TwinTest.php',
        'tests/Core/PackTest.php',
        'tests/Core/LawsTest.php',
        'tests/Core/BenchReadingTest.php',
        'tests/Core/ReadingNetworkTest.php',
        'tests/Core/EngineTest.php',
        'tests/Core/PathsTest.php',
        'tests/Core/BoardAndPathTest.php',
        'tests/Core/DiagnosisTest.php',
        'tests/Core/PlansTest.php',
        'tests/Core/MatchingTest.php',
    ],
];

$root = dirname(__DIR__);

/** @return list<array{file: string, line: int, at: int, end: int, text: string, name: string, step: float}> */
function numbersOf(string $root, string $file, bool $constantsOnly): array
{
    $code = (string) file_get_contents("$root/$file");
    $visitor = new class ($file, $constantsOnly) extends NodeVisitorAbstract {
        public array $found = [];

        private string $name = '';

        private float $step = STEP;

        public function __construct(private string $file, private bool $constantsOnly) {}

        public function enterNode(Node $node): ?int
        {
            if ($node instanceof Node\Stmt\ClassConst) {
                $this->name = $node->consts[0]->name->toString();
                $this->step = STEP;
                foreach ($node->attrGroups as $g) {
                    foreach ($g->attrs as $a) {
                        foreach ($a->args as $arg) {
                            if ($arg->name?->toString() === 'step') {
                                $this->step = (float) $arg->value->value;
                            }
                        }
                    }
                }
                $t = new NodeTraverser($this);
                $t->traverse(array_map(fn(Node\Const_ $c): Node => $c->value, $node->consts));
                $this->name = '';

                return NodeVisitorAbstract::DONT_TRAVERSE_CHILDREN;
            }
            if ($node instanceof Node\Attribute || $node instanceof Node\Stmt\Declare_) {
                return NodeVisitorAbstract::DONT_TRAVERSE_CHILDREN;
            }
            if (
                ($node instanceof Node\Scalar\Int_ || $node instanceof Node\Scalar\Float_) &&
                ($this->name !== '' || !$this->constantsOnly) &&
                !($this->name === '' && in_array((float) $node->value, [0.0, 1.0, 2.0, 10.0, 60.0, 100.0, 1000.0, 3600.0], true)) &&
                (float) $node->value !== 0.0 &&
                abs((float) $node->value) > 1e-4
            ) {
                $this->found[] = [
                    'file' => $this->file,
                    'line' => $node->getStartLine(),
                    'at' => $node->getStartFilePos(),
                    'end' => $node->getEndFilePos(),
                    'text' => (string) $node->value,
                    'int' => $node instanceof Node\Scalar\Int_,
                    'name' => $this->name,
                    'step' => $this->step,
                ];
            }

            return null;
        }
    };
    (new NodeTraverser($visitor))->traverse((new ParserFactory())->createForHostVersion()->parse($code) ?? []);

    return $visitor->found;
}

/** @return list<string> */
function coreFiles(string $root): array
{
    $files = [];
    foreach (new RecursiveIteratorIterator(new RecursiveDirectoryIterator("$root/core", FilesystemIterator::SKIP_DOTS)) as $f) {
        if ($f->getExtension() === 'php' && $f->getFilename() !== 'Rules.php') {
            $files[] = substr($f->getPathname(), strlen($root) + 1);
        }
    }
    sort($files);

    return $files;
}

$arguments = array_slice($argv, 1);
$wanted = [];
$any = array_search('--any', $arguments, true);
if ($any !== false) {
    foreach (coreFiles($root) as $file) {
        array_push($wanted, ...numbersOf($root, $file, false));
    }
    mt_srand((int) ($arguments[$any + 2] ?? 20261129));
    usort($wanted, fn(array $a, array $b): int => [$a['file'], $a['at']] <=> [$b['file'], $b['at']]);
    $drawn = [];
    for ($n = (int) ($arguments[$any + 1] ?? 60); $n > 0 && $wanted !== []; $n--) {
        $drawn[] = array_splice($wanted, mt_rand(0, count($wanted) - 1), 1)[0];
    }
    $wanted = $drawn;
} else {
    $files = array_values(array_filter($arguments, fn(string $a): bool => str_ends_with(explode(':', $a)[0], '.php')));
    if ($files === []) {
        $files = array_map(fn(string $f): string => substr($f, strlen($root) + 1), glob("$root/core/Limits/*Limits.php") ?: []);
    }
    if (in_array('--changed', $arguments, true)) {
        exec(
            'git -C ' .
                escapeshellarg($root) .
                ' diff -U0 HEAD~1 -- core/Limits ' .
                escapeshellarg(':!core/Limits/Limit.php') .
                ' 2>/dev/null',
            $diff,
        );
        $files = [];
        $changed = [];
        foreach ($diff as $line) {
            if (preg_match('#^\+\+\+ b/(.+)$#', $line, $m) === 1) {
                $files[] = $m[1];
            } elseif ($files !== [] && preg_match('/^@@ \S+ \+(\d+)(?:,(\d+))? @@/', $line, $m) === 1) {
                $changed[$files[count($files) - 1]][] = [(int) $m[1], (int) $m[1] + (int) ($m[2] ?? 1) - 1];
            }
        }
    }
    foreach ($files as $f) {
        [$file, $entry] = explode(':', $f) + [1 => null];
        array_push(
            $wanted,
            ...array_filter(
                numbersOf($root, $file, str_starts_with($file, 'core/Limits/')),
                fn(array $n): bool => ($entry === null || $n['name'] === $entry) &&
                    (!isset($changed) ||
                        array_filter(
                            $changed[$file] ?? [],
                            fn(array $lines): bool => $n['line'] >= $lines[0] && $n['line'] <= $lines[1],
                        ) !== []),
            ),
        );
    }
}
$work = sys_get_temp_dir() . '/heartwood-limits-' . getmypid();
mkdir($work);
$tries = [];
foreach (array_values($wanted) as $n) {
    foreach ([1 + $n['step'], 1 - $n['step']] as $by) {
        $value = $n['int']
            ? (int) $n['text'] + max(1, (int) round(abs($by - 1) * abs((int) $n['text']))) * ($by > 1 ? 1 : -1)
            : (float) $n['text'] * $by;
        $tries[] = ['to' => $n['int'] ? (string) $value : var_export($value, true)] + $n;
    }
}
/** Starts the tests of a stage over one moved number. */
$start = function (array $try, int $stage, int $slot) use ($root, $work): array {
    $code = (string) file_get_contents("$root/{$try['file']}");
    $moved = "$work/moved$slot.php";
    file_put_contents($moved, substr($code, 0, $try['at']) . $try['to'] . substr($code, $try['end'] + 1));
    file_put_contents(
        "$work/first$slot.php",
        '<?php require ' . var_export("$root/vendor/autoload.php", true) . '; require ' . var_export($moved, true) . ';',
    );
    $command = [
        'php',
        '-d',
        'memory_limit=1G',
        '-d',
        "auto_prepend_file=$work/first$slot.php",
        "$root/vendor/bin/pest",
        '--colors=never',
        '--stop-on-failure',
        '--stop-on-error',
        '--do-not-cache-result',
        ...TESTS[$stage],
    ];

    return [
        'process' => proc_open($command, [1 => ['file', "$work/said$slot", 'w'], 2 => ['file', "$work/said$slot", 'w']], $pipes, $root),
        'try' => $try,
        'stage' => $stage,
        'since' => microtime(true),
    ];
};
$unnoticed = [];
$running = $again = [];
$slots = 2;
$done = 0;
while ($tries !== [] || $running !== [] || $again !== []) {
    for ($slot = 0; $slot < $slots; $slot++) {
        if (!isset($running[$slot]) && ($again !== [] || $tries !== [])) {
            [$try, $stage] = $again !== [] ? array_shift($again) : [array_shift($tries), 0];
            $running[$slot] = $start($try, $stage, $slot);
        }
        if (!isset($running[$slot])) {
            continue;
        }
        $status = proc_get_status($running[$slot]['process']);
        if ($status['running'] && microtime(true) - $running[$slot]['since'] < LONGEST_S) {
            continue;
        }
        if ($status['running']) {
            // A number that makes the rules run for ever is noticed.
            proc_terminate($running[$slot]['process'], 9);
            $status['exitcode'] = 1;
        }
        proc_close($running[$slot]['process']);
        $r = $running[$slot];
        unset($running[$slot]);
        if ($status['exitcode'] === 0 && isset(TESTS[$r['stage'] + 1]) && !in_array('--fast', $arguments, true)) {
            $again[] = [$r['try'], $r['stage'] + 1];

            continue;
        }
        $done++;
        if ($status['exitcode'] === 0) {
            $unnoticed[] = $r['try'];
            printf(
                "unnoticed  %s:%d %s %s -> %s\n",
                $r['try']['file'],
                $r['try']['line'],
                $r['try']['name'],
                $r['try']['text'],
                $r['try']['to'],
            );
        }
    }
    usleep(20000);
}
array_map(unlink(...), glob("$work/*") ?: []);
rmdir($work);
printf(
    "%d moves of %d numbers, %d noticed (%.1f %%), %d not\n",
    $done,
    count($wanted),
    $done - count($unnoticed),
    (100 * ($done - count($unnoticed))) / max(1, $done),
    count($unnoticed),
);
exit($unnoticed === [] ? 0 : 1);
