<?php

declare(strict_types=1);

// Writes the version of the rules, a hash of the folders that hold them, into core/Rules.php. Run after a rule has
// changed; a test says when it was forgotten. Verdicts are kept with the version that gave them.

$root = dirname(__DIR__).'/core';
$hash = hash_init('sha256');
$files = [];
foreach (new RecursiveIteratorIterator(new RecursiveDirectoryIterator($root, FilesystemIterator::SKIP_DOTS)) as $file) {
    if ($file instanceof SplFileInfo && $file->getExtension() === 'php' && $file->getFilename() !== 'Rules.php') {
        $files[] = $file->getPathname();
    }
}
sort($files);
foreach ($files as $file) {
    hash_update($hash, substr($file, strlen($root)).'/'.hash_file('sha256', $file)."\n");
}
$version = substr(hash_final($hash), 0, 12);
$text = <<<PHP
<?php

declare(strict_types=1);

namespace Heartwood\Core;

/** The version of the rules: a hash of what they say (written by bin/rules.php). A verdict is kept with the version that gave it. */
final class Rules
{
    public const VERSION = '$version';
}

PHP;
if (in_array('--check', $argv, true)) {
    exit(@file_get_contents("$root/Rules.php") === $text ? 0 : 1);
}
file_put_contents("$root/Rules.php", $text);
echo "$version\n";
