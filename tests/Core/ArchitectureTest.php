<?php

declare(strict_types=1);

/** @return array<string, array{names: list<string>, calls: list<string>, strict: bool}> by file: classes named in full, functions called */
function coreUses(string $folder): array
{
    $out = [];
    foreach (new RecursiveIteratorIterator(new RecursiveDirectoryIterator($folder, FilesystemIterator::SKIP_DOTS)) as $file) {
        if ($file->getExtension() !== 'php') {
            continue;
        }
        $code = (string) file_get_contents($file->getPathname());
        $tree = (new PhpParser\NodeTraverser(new PhpParser\NodeVisitor\NameResolver()))->traverse(
            (new PhpParser\ParserFactory())->createForHostVersion()->parse($code) ?? [],
        );
        $find = new PhpParser\NodeFinder();
        $out[$file->getPathname()] = [
            'names' => array_map(
                fn(PhpParser\Node\Name $n): string => $n->toString(),
                $find->findInstanceOf($tree, PhpParser\Node\Name::class),
            ),
            'calls' => array_map(
                fn(PhpParser\Node $n): string => $n instanceof PhpParser\Node\Expr\Exit_
                    ? 'exit'
                    : ($n->name instanceof PhpParser\Node\Name
                        ? strtolower($n->name->getLast())
                        : ''),
                $find->find(
                    $tree,
                    fn(PhpParser\Node $n): bool => $n instanceof PhpParser\Node\Expr\FuncCall || $n instanceof PhpParser\Node\Expr\Exit_,
                ),
            ),
            'strict' => str_contains($code, 'declare(strict_types=1);'),
        ];
    }

    return $out;
}

const OUTER = ['Illuminate', 'Laravel', 'App', 'Opis', 'Symfony', 'Carbon', 'Dompdf'];
const IMPURE = [
    'time',
    'microtime',
    'hrtime',
    'date',
    'now',
    'rand',
    'mt_rand',
    'random_int',
    'random_bytes',
    'uniqid',
    'shuffle',
    'array_rand',
    'file_get_contents',
    'file_put_contents',
    'fopen',
    'fwrite',
    'getenv',
    'putenv',
    'curl_init',
    'exec',
    'shell_exec',
    'sleep',
    'usleep',
    'dd',
    'dump',
    'var_dump',
    'exit',
];

it('knows in core no framework and no outer layer, no clock, no chance and no files, and is strict', function (): void {
    $bad = [];
    foreach (coreUses(dirname(__DIR__, 2) . '/core') as $file => $uses) {
        $outer = array_filter($uses['names'], fn(string $n): bool => in_array(explode('\\', $n)[0], OUTER, true));
        array_push(
            $bad,
            ...array_map(fn(string $x): string => basename($file) . ": $x", [
                ...array_values($outer),
                ...array_intersect($uses['calls'], IMPURE),
                ...$uses['strict'] ? [] : ['not strict'],
            ]),
        );
    }
    expect($bad)->toBe([]);
});

it('would see each of them', function (): void {
    $folder = sys_get_temp_dir() . '/heartwood-core-' . getmypid();
    mkdir($folder);
    file_put_contents(
        "$folder/X.php",
        '<?php namespace Heartwood\Core; use App\Models\Job; final class X { public function y(Job $j): int { exit(\time() + rand()); } }',
    );
    $uses = coreUses($folder)["$folder/X.php"];
    exec('rm -r ' . escapeshellarg($folder));
    expect($uses['names'])
        ->toContain('App\Models\Job')
        ->and(array_values(array_intersect($uses['calls'], IMPURE)))
        ->toEqualCanonicalizing(['time', 'rand', 'exit'])
        ->and($uses['strict'])
        ->toBeFalse();
});

it('reads no clock by constructing a date from now, and no superglobal', function (): void {
    $bad = [];
    foreach (new RecursiveIteratorIterator(new RecursiveDirectoryIterator(dirname(__DIR__, 2) . '/core')) as $file) {
        if (
            $file->isFile() &&
            preg_match(
                '/new \\\\?DateTime(Immutable)?\(\s*\)|[\'"]now[\'"]|\$_(GET|POST|SERVER|ENV|SESSION|COOKIE)|\bglobal\s+\$/',
                (string) file_get_contents($file->getPathname()),
            )
        ) {
            $bad[] = $file->getFilename();
        }
    }
    expect($bad)->toBe([]);
});

it('cites no section of the handbook that is not there', function (): void {
    $root = dirname(__DIR__, 2);
    preg_match_all('/^#+ (.+)$/m', implode("\n", array_map(file_get_contents(...), glob("$root/docs/handbook/*.md") ?: [])), $there);
    $missing = [];
    foreach (['core', 'app'] as $folder) {
        foreach (new RecursiveIteratorIterator(new RecursiveDirectoryIterator("$root/$folder", FilesystemIterator::SKIP_DOTS)) as $file) {
            preg_match_all('/handbook \\\\?"([^"\\\\]+)\\\\?"/', (string) file_get_contents($file->getPathname()), $cited);
            $names = array_map(fn(string $n): string => (string) preg_replace('/\s*\n\s*\*?\s*/', ' ', $n), $cited[1]);
            foreach (array_diff($names, $there[1]) as $name) {
                $missing[] = $file->getFilename() . ': ' . $name;
            }
        }
    }
    expect($missing)->toBe([]);
});

it('names every font and library that ships, with its licence', function (): void {
    $root = dirname(__DIR__, 2);
    $notice = (string) file_get_contents("$root/NOTICE");
    $composer = json_decode((string) file_get_contents("$root/composer.json"), true)['require'];
    $npm = json_decode((string) file_get_contents("$root/package.json"), true)['dependencies'];
    $named = array_filter(array_keys($composer + $npm), fn(string $n): bool => str_contains($n, '/') || isset($npm[$n]));
    expect(count($named))->toBeGreaterThan(15);
    foreach ($named as $name) {
        expect(preg_match('#^  ' . preg_quote($name, '#') . ' \([A-Za-z0-9.+ -]+\)$#m', $notice))->toBe(
            1,
            "$name is not in NOTICE: run php bin/notice.php",
        );
    }
});

it('has no line of code over 140 characters', function (): void {
    $root = dirname(__DIR__, 2);
    exec(
        'git -C ' .
            escapeshellarg($root) .
            ' ls-files "*.php" "*.mjs" "*.ts" "*.tsx" "contract/openapi.yaml" heartwood bin bench .ci 2>/dev/null',
        $files,
        $code,
    );
    if ($code !== 0) {
        // A copy without its history: the folders that hold code.
        $files = array_map(
            fn(string $f): string => substr($f, strlen($root) + 1),
            glob("$root/{app,core,tests}/*/*.php", GLOB_BRACE) ?: [],
        );
    }
    $long = [];
    foreach ($files as $file) {
        foreach (preg_match('/\.md$|schema\.d\.ts$/', $file) ? [] : (array) file("$root/$file") as $n => $line) {
            if (mb_strlen(rtrim($line, "\r\n")) > 140) {
                $long[] = "$file:" . ($n + 1);
            }
        }
    }
    expect(count($files))->toBeGreaterThan(100)->and($long)->toBe([]);
});

it('lets no action, model or instrument know a screen: what both compute is read in app/Read', function (): void {
    $known = [];
    $root = dirname(__DIR__, 2) . '/app';
    foreach (['Actions', 'Read', 'Models', 'Instruments', 'StandIn', 'Security', 'Support', 'Contract', 'Demo', 'Policies'] as $folder) {
        foreach (new RecursiveIteratorIterator(new RecursiveDirectoryIterator("$root/$folder", FilesystemIterator::SKIP_DOTS)) as $file) {
            if (preg_match('/App\\\\Http\\\\(?!ErrorShape|RequestId)/', (string) file_get_contents((string) $file)) === 1) {
                $known[] = substr((string) $file, strlen($root) + 1);
            }
        }
    }
    expect($known)->toBe([]);
});

it('keeps a controller to what it is for: none is over two hundred and sixty lines', function (): void {
    $long = array_filter(
        glob(dirname(__DIR__, 2) . '/app/Http/Controllers/*.php') ?: [],
        fn(string $f): bool => count((array) file($f)) > 260,
    );
    expect(array_map(basename(...), array_values($long)))->toBe([]);
});

it('names every slot of an answer in one place', function (): void {
    $root = dirname(__DIR__, 2) . '/resources/js';
    $bare = [];
    foreach (new RecursiveIteratorIterator(new RecursiveDirectoryIterator($root, FilesystemIterator::SKIP_DOTS)) as $file) {
        $path = substr((string) $file, strlen($root) + 1);
        if ($path !== 'lib/slots.ts' && preg_match('/(queryKey: |QueryData\\()\\[/', (string) file_get_contents((string) $file)) === 1) {
            $bare[] = $path;
        }
    }
    expect($bare)->toBe([]);
});
