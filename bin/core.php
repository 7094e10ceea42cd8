<?php

declare(strict_types=1);

// The verbs that need no database: job records in, one JSON document a file out.

use App\Contract\Verbs;
use Heartwood\Core\Record\InvalidRecord;

require dirname(__DIR__) . '/vendor/autoload.php';

ini_set('display_errors', 'stderr');
ini_set('serialize_precision', '-1');

$verb = $argv[1] ?? '';
$files = array_slice($argv, 2);
if ($files === []) {
    fwrite(STDERR, "Usage: ./heartwood $verb FILE.json ...  ('-' reads standard input)\n");
    exit(2);
}

$status = 0;
$print = fn(array $document): int => print json_encode($document, JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES) .
    "\n";

foreach ($files as $file) {
    try {
        $text = $file === '-' ? stream_get_contents(STDIN) : (is_file($file) && is_readable($file) ? file_get_contents($file) : false);
        if ($text === false) {
            throw new InvalidRecord([['pointer' => '', 'message' => 'the file cannot be read: check its name and rights']]);
        }
        $print(Verbs::run($verb, $text));
    } catch (InvalidRecord $e) {
        $status = 2;
        $print(['file' => $file, 'errors' => $e->problems]);
    }
}

exit($status);
