<?php

declare(strict_types=1);

// Writes NOTICE: every library and font that ships, with its licence, out of what is installed.
// A file named is written instead. --check says whether NOTICE is behind.

$root = dirname(__DIR__);
$installed = json_decode((string) file_get_contents("$root/vendor/composer/installed.json"), true, 512, JSON_THROW_ON_ERROR);
$dev = array_flip($installed['dev-package-names'] ?? []);
$php = [];
foreach ($installed['packages'] as $p) {
    if (!isset($dev[$p['name']])) {
        $php[$p['name']] = implode(' or ', (array) ($p['license'] ?? ['not said']));
    }
}
$lock = json_decode((string) file_get_contents("$root/package-lock.json"), true, 512, JSON_THROW_ON_ERROR);
$npm = $fonts = [];
foreach ($lock['packages'] as $path => $p) {
    $at = strrpos($path, 'node_modules/');
    if ($at === false || ($p['dev'] ?? false) || ($p['devOptional'] ?? false) || ($p['optional'] ?? false) || ($p['peer'] ?? false)) {
        continue;
    }
    $name = substr($path, $at + strlen('node_modules/'));
    str_starts_with($name, '@fontsource/') ? ($fonts[$name] = $p['license'] ?? 'not said') : ($npm[$name] = $p['license'] ?? 'not said');
}
$list = function (string $title, array $of): string {
    ksort($of);

    return "$title\n\n" . implode('', array_map(fn(string $n, string $l): string => "  $n ($l)\n", array_keys($of), $of)) . "\n";
};
$text =
    "Heartwood\n\nLicensed under the Apache License, Version 2.0 (LICENSE). It ships these, each under its own licence\n" .
    "(written by bin/notice.php from what is installed):\n\n" .
    $list('Fonts', $fonts) .
    $list('Libraries of the screens', $npm) .
    $list('Libraries of the server', $php);
if (in_array('--check', $argv, true)) {
    exit(@file_get_contents("$root/NOTICE") === $text ? 0 : 1);
}
$file = array_values(array_filter(array_slice($argv, 1), fn(string $a): bool => $a[0] !== '-'))[0] ?? "$root/NOTICE";
file_put_contents($file, $text);
echo count($php) + count($npm) + count($fonts) . " packages\n";
