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
        'train' => [true, true, true, true],
        'instruments' => [true, true, true, false],
        'release' => [true, true, false, false],
        'customers' => [true, true, true, false],
        'merge' => [true, true, false, false],
        'forget' => [true, false, false, false],
        'settings' => [true, false, false, false],
        'people' => [true, false, false, false],
        'security' => [true, false, false, false],
    ];

    public const ROLES = ['owner', 'senior', 'technician', 'trainee'];

    /** Rights that want the password of the one who acts, proved a short while ago: a personal code is not enough. */
    public const PROVED = ['settings', 'people', 'forget', 'release'];

    public static function allows(Person $person, string $right): bool
    {
        return $person->active && self::TABLE[$right][(int) array_search($person->role, self::ROLES, true)];
    }

    /** @return list<string> */
    public static function of(Person $person): array
    {
        return array_values(array_filter(array_keys(self::TABLE), fn(string $right): bool => self::allows($person, $right)));
    }

    /** Overrides, releases and removals are a senior's. */
    public static function isSenior(Person $person): bool
    {
        return self::allows($person, 'release');
    }
}
