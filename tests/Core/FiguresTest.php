<?php

declare(strict_types=1);

use Tests\Core\Figures;

// A number that was changed, anywhere in the rules, shows here. When it was meant: php bin/figures.php, and read the diff.

it('says of many packs, logs, drawers and runs what it said before', function (): void {
    $was = file(Figures::FILE, FILE_IGNORE_NEW_LINES) ?: [];
    $is = Figures::lines();
    $changed = array_map(
        fn(int $i): string => sprintf("was %s\nis  %s", $was[$i] ?? 'not there', $is[$i] ?? 'not there'),
        array_keys(array_diff_assoc($is, $was) + array_diff_assoc($was, $is)),
    );
    expect($changed)->toBe([], count($changed) . ' lines differ. Meant? php bin/figures.php');
});
