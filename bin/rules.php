<?php

declare(strict_types=1);

// Writes what follows from the rules: their version, a hash of the folders that hold them, into core/Rules.php, and the
// vocabulary of faults, tests and actions into the schemas of the contract, what the screens call them into words.json.
// Run after a rule has changed; a test says
// when it was forgotten. Verdicts are kept with the version that gave them.

use Heartwood\Core\Diagnosis\Spoken;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Drift\Sign;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Glossary;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Protocol\Protocols;
use Heartwood\Core\Record\PackKind;
use Heartwood\Core\Record\Symptom;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Safety\Look;
use Heartwood\Core\Schedule\Stage;

require dirname(__DIR__) . '/vendor/autoload.php';

$root = dirname(__DIR__) . '/core';
$hash = hash_init('sha256');
$files = [];
foreach (new RecursiveIteratorIterator(new RecursiveDirectoryIterator($root, FilesystemIterator::SKIP_DOTS)) as $file) {
    if ($file instanceof SplFileInfo && $file->getExtension() === 'php' && $file->getFilename() !== 'Rules.php') {
        $files[] = $file->getPathname();
    }
}
sort($files);
foreach ($files as $file) {
    hash_update($hash, substr($file, strlen($root)) . '/' . hash_file('sha256', $file) . "\n");
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
$written = ["$root/Rules.php" => $text];
// Words of a schema keep their order: what is new comes last.
$enum = function (array $now, array $codes): array {
    return [...array_values(array_intersect($now, $codes)), ...array_values(array_diff($codes, $now))];
};
$values = fn(array $cases): array => array_map(fn(BackedEnum $c): string => (string) $c->value, $cases);
foreach (
    [
        'verdict.schema.json' => [
            ['groups', 'items', 'properties', 'state', array_keys(Faults::groups())],
            ['findings', 'items', 'properties', 'code', Faults::codes()],
            ['next_tests', 'items', 'properties', 'test', $values(TestKind::cases())],
            ['options', 'items', 'properties', 'action', $values(RepairAction::cases())],
        ],
        'job.schema.json' => [['truth', 'items', 'properties', 'code', Faults::codes()], ['symptoms', 'items', $values(Symptom::cases())]],
    ]
    as $name => $places
) {
    $file = dirname(__DIR__) . "/contract/$name";
    $schema = json_decode((string) file_get_contents($file), false, 512, JSON_THROW_ON_ERROR);
    foreach ($places as $place) {
        $codes = array_pop($place);
        $at = $schema->properties;
        foreach ($place as $step) {
            $at = $at->{$step};
        }
        $at->enum = $enum($at->enum, $codes);
    }
    $json = json_encode(
        $schema,
        JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_THROW_ON_ERROR | JSON_PRESERVE_ZERO_FRACTION,
    );
    $written[$file] = preg_replace_callback('/^ +/m', fn(array $m): string => str_repeat(' ', intdiv(strlen($m[0]), 2)), $json) . "\n";
}
// What the screens call things: one list, read by them as it is.
$titled = fn(array $cases): array => array_combine(
    $values($cases),
    array_map(fn(TestKind|Symptom|Stage $c): string => $c->title(), $cases),
);
$written[dirname(__DIR__) . '/contract/words.json'] =
    json_encode(
        [
            'tests' => $titled(TestKind::cases()),
            'symptoms' => $titled(Symptom::cases()),
            'stages' => $titled(Stage::cases()),
            'looks' => array_map(
                fn(Look $l): array => [
                    'key' => $l->value,
                    'ask' => $l->asks(),
                    'means' => $l->means(),
                    'outside' => $l->fromOutside(),
                    'after' => $l->after()?->value,
                    'answers' => $l->answers(),
                ],
                Look::cases(),
            ),
            'signs' => $values(Sign::cases()),
            'sets' => array_filter(
                array_combine($values(TestKind::cases()), array_map(fn(TestKind $t): ?string => $t->set()?->value, TestKind::cases())),
            ),
            'continues' => array_filter(
                array_combine(
                    $values(TestKind::cases()),
                    array_map(fn(TestKind $t): ?string => $t->continues()?->value, TestKind::cases()),
                ),
            ),
            'rooms' => array_filter(
                array_combine($values(RepairAction::cases()), array_map(fn(RepairAction $a): ?string => $a->room(), RepairAction::cases())),
            ),
            'guided' => array_filter(
                array_combine(
                    $values(TestKind::cases()),
                    array_map(fn(TestKind $t): ?string => Protocols::for($t)?->code(), TestKind::cases()),
                ),
            ),
            'kinds' => $values(PackKind::cases()),
            'chemistries' => $values(Chemistry::cases()),
            'walk' => array_filter(array_combine($values(Stage::cases()), array_map(fn(Stage $s): ?string => $s->shows(), Stage::cases()))),
            'weights' => Spoken::WEIGHTS,
            'sureness' => Spoken::SURENESS,
        ],
        JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_THROW_ON_ERROR,
    ) . "\n";
$written[dirname(__DIR__) . '/contract/glossary.json'] =
    json_encode(
        array_map(fn(array $w): array => array_combine(['word', 'means', 'section'], $w), Glossary::WORDS),
        JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_THROW_ON_ERROR,
    ) . "\n";
if (in_array('--check', $argv, true)) {
    foreach ($written as $file => $content) {
        if (@file_get_contents($file) !== $content) {
            fwrite(STDERR, substr($file, strlen(dirname(__DIR__)) + 1) . " is behind\n");
            exit(1);
        }
    }
    exit(0);
}
foreach ($written as $file => $content) {
    file_put_contents($file, $content);
}
echo "$version\n";
