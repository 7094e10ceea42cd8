<?php

declare(strict_types=1);

// Rewrites resources/security/common-passwords.bin from a list, a password a line: sorted first bytes of each SHA-256,
// so that the list can be asked and not be read. The one that ships is zxcvbn-ts' (MIT licence), five characters and more.
$list = [];
foreach (file($argv[1] ?? 'php://stdin', FILE_IGNORE_NEW_LINES) ?: [] as $line) {
    if ($line !== '' && $line[0] !== '#') {
        $list[substr(hash('sha256', strtolower($line), true), 0, 6)] = true;
    }
}
$keys = array_keys($list);
sort($keys, SORT_STRING);
file_put_contents(dirname(__DIR__) . '/resources/security/common-passwords.bin', implode('', $keys));
echo count($keys), " passwords\n";
