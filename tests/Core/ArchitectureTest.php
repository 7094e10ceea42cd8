<?php

declare(strict_types=1);

arch('core knows no framework and no outer layer')
    ->expect('Heartwood\Core')
    ->not->toUse(['Illuminate', 'Laravel', 'App', 'Opis', 'Symfony', 'Carbon', 'Dompdf']);

arch('core has no clock, no chance, no files, no globals of its own')
    ->expect('Heartwood\Core')
    ->not->toUse(['time', 'microtime', 'hrtime', 'date', 'now', 'rand', 'mt_rand', 'random_int', 'random_bytes', 'uniqid', 'shuffle', 'array_rand',
        'file_get_contents', 'file_put_contents', 'fopen', 'fwrite', 'getenv', 'putenv', 'curl_init', 'exec', 'shell_exec', 'sleep', 'usleep', 'dd', 'dump', 'var_dump', 'die']);

arch('core is strict')->expect('Heartwood\Core')->toUseStrictTypes();

it('reads no clock by constructing a date from now, and no superglobal', function (): void {
    $bad = [];
    foreach (new RecursiveIteratorIterator(new RecursiveDirectoryIterator(dirname(__DIR__, 2).'/core')) as $file) {
        if ($file->isFile() && preg_match('/new \\\\?DateTime(Immutable)?\(\s*\)|[\'"]now[\'"]|\$_(GET|POST|SERVER|ENV|SESSION|COOKIE)|\bglobal\s+\$/', (string) file_get_contents($file->getPathname()))) {
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
            $names = array_map(fn (string $n): string => (string) preg_replace('/\s*\n\s*\*?\s*/', ' ', $n), $cited[1]);
            foreach (array_diff($names, $there[1]) as $name) {
                $missing[] = $file->getFilename().': '.$name;
            }
        }
    }
    expect($missing)->toBe([]);
});
