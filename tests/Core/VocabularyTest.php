<?php

declare(strict_types=1);

use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Glossary;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Record\Condition;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackKind;
use Heartwood\Core\Record\Symptom;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Safety\Look;
use Heartwood\Core\Safety\Triage;
use Heartwood\Core\Schedule\Stage;

/** Sections of the handbook that the glossary sends to. */
const SECTIONS = [
    'Chemistry profiles',
    'Identity of a pack',
    'Readings as a network',
    'Rest spread',
    'Joint or cell resistance from current',
    'Self-discharge',
    'What the customer sees: the usable window',
    'Verdicts',
    'Repair options and what they bring',
    'Recovery of a deep-discharged group',
    'Balancing',
    'Test logs of cells and groups',
    'Grading and matching',
    'Joining cells or packs in parallel',
    'Current budget',
    'Acceptance (proof)',
    'The fault catalogue',
    'Triage',
    'Gates on work',
    'Trainer',
];

/** @return array<string, string> each screen's text, by its path */
function screens(): array
{
    $root = dirname(__DIR__, 2) . '/resources/js';
    $out = [];
    foreach (new RecursiveIteratorIterator(new RecursiveDirectoryIterator($root, FilesystemIterator::SKIP_DOTS)) as $file) {
        if (str_ends_with((string) $file, '.tsx') && !str_ends_with((string) $file, '.test.tsx')) {
            $out[substr((string) $file, strlen($root) + 1)] = (string) file_get_contents((string) $file);
        }
    }

    return $out;
}

/**
 * Codes that stand in a file of the screens as words of their own.
 *
 * @param  list<string>  $codes
 * @return list<string>
 */
function codesIn(string $text, array $codes): array
{
    return array_values(
        array_filter(
            $codes,
            fn(string $c): bool => preg_match('/[\'"]' . preg_quote($c, '/') . '[\'"]|^\s*' . preg_quote($c, '/') . ':/m', $text) === 1,
        ),
    );
}

it('says everything once: no two codes are called alike, none is called nothing', function (array $cases): void {
    $titles = array_map(fn(TestKind|Symptom|Stage $c): string => $c->title(), $cases);
    expect(array_unique($titles))->toBe($titles)->and($titles)->not->toContain('');
})->with(['tests' => [TestKind::cases()], 'symptoms' => [Symptom::cases()], 'stages' => [Stage::cases()]]);

it('says of each look what a yes truly does', function (Look $look): void {
    $state = Triage::assess(new Fields([$look->value => true]), [], 40.0)->state->value;
    expect($look->means())
        ->toBe($state === 'clear' ? 'note' : $state)
        ->and($look->asks())
        ->not->toBe('');
})->with(fn() => array_map(fn(Look $l): array => [$l], Look::cases()));

it('has its vocabulary in the schemas, in the same words', function (): void {
    $schema = json_decode((string) file_get_contents(dirname(__DIR__, 2) . '/contract/job.schema.json'), true);
    $values = fn(array $cases): array => array_column($cases, 'value');
    $same = fn(array $a, array $b): array => [array_diff($a, $b), array_diff($b, $a)];
    $pack = $schema['$defs']['pack']['properties'];
    expect($same($pack['kind']['enum'], $values(PackKind::cases())))
        ->toBe([[], []])
        ->and($same($pack['chemistry']['enum'], $values(Chemistry::cases())))
        ->toBe([[], []])
        ->and($same($schema['properties']['symptoms']['items']['enum'], $values(Symptom::cases())))
        ->toBe([[], []])
        ->and(
            array_diff(
                $values(Look::cases()),
                array_keys($schema['properties']['inspection']['properties'] ?? $schema['$defs']['inspection']['properties']),
            ),
        )
        ->toBe([]);
});

it('says in the glossary what a word means, briefly, and where more of it stands', function (string $key): void {
    [$word, $means, $section] = Glossary::WORDS[$key];
    expect(strlen($word))
        ->toBeBetween(3, 30)
        ->and(strlen($means))
        ->toBeBetween(40, 180)
        ->and($means)
        ->toEndWith('.')
        ->and(SECTIONS)
        ->toContain($section);
})->with(array_keys(Glossary::WORDS));

it('explains each word of the glossary somewhere on a screen', function (string $key): void {
    $found = [];
    foreach (screens() as $path => $text) {
        if (str_contains($text, "of=\"$key\"")) {
            $found[] = $path;
        }
    }
    expect($found)->not->toBe([]);
})->with(array_keys(Glossary::WORDS));

it('has no second list of any vocabulary in the screens', function (string $name, array $codes, int $most): void {
    $root = dirname(__DIR__, 2) . '/resources/js';
    $lists = [];
    foreach (new RecursiveIteratorIterator(new RecursiveDirectoryIterator($root, FilesystemIterator::SKIP_DOTS)) as $file) {
        $path = substr((string) $file, strlen($root) + 1);
        // Forms stand by the code of the test they are for, screens by the stage they are at; what came from the
        // contract is no list of ours.
        if (
            preg_match('/\.tsx?$/', $path) &&
            !preg_match('/\.test\.tsx?$|^api\/schema\.d\.ts$|^routes\/probe\/tests\.ts$|^main\.tsx$/', $path)
        ) {
            $found = codesIn((string) file_get_contents((string) $file), $codes);
            if (count($found) > $most) {
                $lists[$path] = implode(' ', $found);
            }
        }
    }
    expect($lists)->toBe([]);
})->with([
    'tests' => ['tests', array_column(TestKind::cases(), 'value'), 4],
    'symptoms' => ['symptoms', array_column(Symptom::cases(), 'value'), 3],
    'looks' => ['looks', array_column(Look::cases(), 'value'), 3],
    'chemistries' => ['chemistries', array_column(Chemistry::cases(), 'value'), 3],
    'kinds' => ['kinds', array_column(PackKind::cases(), 'value'), 2],
    'stages' => ['stages', array_column(Stage::cases(), 'value'), 4],
    'faults' => ['faults', Faults::codes(), 4],
    'actions' => ['actions', array_column(RepairAction::cases(), 'value'), 4],
]);

it('opens a set under the current that a test wants, and leaves the others to the set that is being read', function (): void {
    expect(TestKind::LoadStep->set())
        ->toBe(Condition::Discharge)
        ->and(TestKind::ChargeStep->set())
        ->toBe(Condition::Charge)
        ->and(TestKind::RestAgain->set())
        ->toBe(Condition::Rest)
        ->and(TestKind::GroupReading->set())
        ->toBeNull()
        ->and(TestKind::CapacityPack->set())
        ->toBeNull();
});

it('sends what alters cells or board to the build room, what moves charge to the supply, and nothing that ends a pack anywhere', function (
    RepairAction $action,
): void {
    $charges = $action->gate() === 'recover-or-balance';
    expect($action->endsPack() && $action->room() !== null)
        ->toBeFalse()
        ->and($charges && $action->room() === null)
        ->toBeFalse();
})->with(fn() => array_map(fn(RepairAction $a): array => [$a], RepairAction::cases()));

it('knows a list when it sees one', function (): void {
    expect(codesIn("const X = ['nmc', \"nca\", 'lco'];", ['nmc', 'nca', 'lco', 'lfp']))
        ->toBe(['nmc', 'nca', 'lco'])
        ->and(codesIn("{\n  refill: 'Refill',\n  wake: 1 }", ['refill', 'wake', 'flex']))
        ->toBe(['refill', 'wake'])
        ->and(codesIn('refilled and awake', ['refill', 'wake']))
        ->toBe([]);
});
