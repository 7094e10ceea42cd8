<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault;

/** Every fault there is: one file each under this folder, found by looking. */
final class Faults
{
    /** @var array<string, Fault>|null */
    private static ?array $all = null;

    /** @var array<string, GroupFault>|null */
    private static ?array $groups = null;

    /** @return array<string, Fault> by code, in the order of their folders and names */
    public static function all(): array
    {
        if (self::$all === null) {
            self::$all = [];
            foreach (glob(__DIR__ . '/*/*.php') ?: [] as $file) {
                $class = __NAMESPACE__ . '\\' . basename(dirname($file)) . '\\' . basename($file, '.php');
                if (is_subclass_of($class, Fault::class)) {
                    $fault = new $class();
                    self::$all[$fault->code()] = $fault;
                }
            }
        }

        return self::$all;
    }

    /** @throws \OutOfBoundsException when there is no such code */
    public static function of(string $code): Fault
    {
        return self::all()[$code] ?? throw new \OutOfBoundsException("no fault is called '$code'");
    }

    /** @return array<string, GroupFault> the exclusive states of one group, the sound one first */
    public static function groups(): array
    {
        if (self::$groups === null) {
            $ok = new Group\Ok();
            self::$groups = [$ok->code() => $ok] + array_filter(self::all(), fn(Fault $f): bool => $f instanceof GroupFault);
        }

        return self::$groups;
    }

    /** @return list<string> codes that a finding may carry: all but the sound group */
    public static function codes(): array
    {
        return array_values(array_diff(array_keys(self::all()), [Group\Ok::CODE]));
    }
}
