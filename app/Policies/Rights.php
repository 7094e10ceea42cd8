<?php

declare(strict_types=1);

namespace App\Policies;

use App\Models\Person;

/** The one table of rights per role. What a safety state forbids comes on top (see Safety\Gate in core). */
final class Rights
{
    public const TABLE = [
        //                    owner  senior technician trainee
        'view' => [true, true, true, true],
        'intake' => [true, true, true, true],
        'triage' => [true, true, true, true],
        'probe' => [true, true, true, true],
        'verdict' => [true, true, true, true],
        'export' => [true, true, true, true],
        'wait' => [true, true, true, true],
        'work' => [true, true, true, true],
        'decide' => [true, true, true, false],
        'import' => [true, true, true, false],
        'return' => [true, true, true, false],
        'sign-off' => [true, true, true, false],
        'recover' => [true, true, true, false],
        'cells' => [true, true, true, true],
        'instruments' => [true, true, true, false],
        'release' => [true, true, false, false],
        'settings' => [true, false, false, false],
    ];

    private const ROLES = ['owner' => 0, 'senior' => 1, 'technician' => 2, 'trainee' => 3];

    public static function allows(Person $person, string $right): bool
    {
        return $person->active && self::TABLE[$right][self::ROLES[$person->role]];
    }

    /** @return list<string> */
    public static function of(Person $person): array
    {
        return array_values(array_filter(array_keys(self::TABLE), fn (string $right): bool => self::allows($person, $right)));
    }

    /** Overrides, releases and removals are a senior's. */
    public static function isSenior(Person $person): bool
    {
        return self::allows($person, 'release');
    }
}
