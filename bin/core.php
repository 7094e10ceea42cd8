<?php

declare(strict_types=1);

// The verbs that need no database: job records in, one JSON document a file out.

use App\Contract\RecordReader;
use App\Contract\SimulationReader;
use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Twin\Simulation;

require dirname(__DIR__).'/vendor/autoload.php';

ini_set('display_errors', 'stderr');
ini_set('serialize_precision', '-1');

$verb = $argv[1] ?? '';
$files = array_slice($argv, 2);
if ($files === []) {
    fwrite(STDERR, "Usage: ./heartwood $verb FILE.json ...  ('-' reads standard input)\n");
    exit(2);
}

/** @return array<string, mixed> */
function diagnose(string $text): array
{
    $input = RecordReader::read($text);

    return Diagnoser::diagnose($input['record'], $input['hash'])->toArray();
}

$status = 0;
$print = fn (array $document): int => print json_encode($document, JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES)."\n";

foreach ($files as $file) {
    try {
        $text = $file === '-' ? stream_get_contents(STDIN) : (is_file($file) && is_readable($file) ? file_get_contents($file) : false);
        if ($text === false) {
            throw new InvalidRecord([['pointer' => '', 'message' => 'the file cannot be read: check its name and rights']]);
        }
        $print(match ($verb) {
            'simulate' => Simulation::of(...SimulationReader::read($text)),
            default => diagnose($text),
        });
    } catch (InvalidRecord $e) {
        $status = 2;
        $print(['file' => $file, 'errors' => $e->problems]);
    }
}

exit($status);
