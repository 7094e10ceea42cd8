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
