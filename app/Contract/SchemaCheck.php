<?php

declare(strict_types=1);

namespace App\Contract;

use Opis\JsonSchema\Errors\ValidationError;
use Opis\JsonSchema\Helper;
use Opis\JsonSchema\Validator;

/** Checks decoded JSON against the schemas in contract/ and names every problem by JSON pointer. Needs no framework. */
final class SchemaCheck
{
    private const BASE = 'https://heartwood.invalid/contract/';

    private static ?Validator $validator = null;

    /** @var array<string, object> by file and part */
    private static array $cut = [];

    /**
     * @param  mixed  $data  as json_decode() without the associative flag gives it
     * @param  string  $schema  a file of contract/, such as "job.schema.json"
     * @param  string|null  $part  a name of its `$defs`, where the data are no whole document but one of these
     * @return list<array{pointer: string, message: string}> empty when it is right
     */
    public static function problems(mixed $data, string $schema, ?string $part = null): array
    {
        $error = self::validator()
            ->validate($data, $part === null ? self::BASE . $schema : self::cut($schema, $part))
            ->error();
        if ($error === null) {
            return [];
        }
        $out = [];
        foreach (self::leaves($error) as $leaf) {
            foreach (self::names($leaf) as $name) {
                $problem = ['pointer' => self::pointer($leaf, $name), 'message' => self::sentence($leaf)];
                $out[$problem['pointer'] . $problem['message']] = $problem;
            }
        }

        return array_values($out);
    }

    /** A schema of this part and what it refers to: a whole file takes ten times as long to be read. */
    private static function cut(string $schema, string $part): object
    {
        if (!isset(self::$cut["$schema $part"])) {
            $whole = json_decode((string) file_get_contents(dirname(__DIR__, 2) . "/contract/$schema"), flags: JSON_THROW_ON_ERROR);
            $defs = [];
            for ($wanted = [$part]; $wanted !== []; ) {
                $name = (string) array_pop($wanted);
                if (!isset($defs[$name])) {
                    $defs[$name] = $whole->{'$defs'}->{$name};
                    preg_match_all('~"#/\$defs/([\w-]+)"~', (string) json_encode($defs[$name], JSON_UNESCAPED_SLASHES), $found);
                    array_push($wanted, ...$found[1]);
                }
            }
            self::$cut["$schema $part"] = (object) [
                '$schema' => $whole->{'$schema'},
                '$defs' => (object) $defs,
                '$ref' => '#/$defs/' . $part,
            ];
        }

        return self::$cut["$schema $part"];
    }

    private static function validator(): Validator
    {
        if (self::$validator === null) {
            self::$validator = new Validator();
            self::$validator->setMaxErrors(20);
            self::$validator->setStopAtFirstError(false);
            self::$validator->resolver()?->registerPrefix(self::BASE, dirname(__DIR__, 2) . '/contract');
        }

        return self::$validator;
    }

    /** @return list<ValidationError> */
    private static function leaves(ValidationError $error): array
    {
        // Of several alternatives only the choice itself is said; the errors of each branch would bury it.
        if ($error->subErrors() === [] || $error->keyword() === 'anyOf') {
            return [$error];
        }

        return array_merge(...array_map(self::leaves(...), $error->subErrors()));
    }

    /**
     * The properties that an error is about, null for the value itself. A property that is known but wrong counts as
     * unknown for the validator: that it is wrong is said elsewhere.
     *
     * @return list<string|null>
     */
    private static function names(ValidationError $error): array
    {
        if ($error->keyword() === 'required') {
            return array_values(array_map(strval(...), $error->args()['missing'] ?? []));
        }
        if ($error->keyword() === 'additionalProperties') {
            $known = (array) ($error->schema()->info()->data()->properties ?? []);

            return array_values(
                array_filter(array_map(strval(...), $error->args()['properties'] ?? []), fn(string $name): bool => !isset($known[$name])),
            );
        }

        return [null];
    }

    private static function pointer(ValidationError $error, ?string $name): string
    {
        $path = array_map(fn(int|string $p): string => str_replace(['~', '/'], ['~0', '~1'], (string) $p), $error->data()->fullPath());
        if ($name !== null) {
            $path[] = str_replace(['~', '/'], ['~0', '~1'], $name);
        }

        return $path === [] ? '' : '/' . implode('/', $path);
    }

    private static function sentence(ValidationError $error): string
    {
        $args = $error->args();

        return match ($error->keyword()) {
            'required' => 'is missing',
            'additionalProperties' => 'is not known here: remove it or correct its name',
            'enum', 'const' => 'is not one of the values allowed here',
            'minimum' => sprintf('must be %s or more', self::plain($args['min'] ?? '')),
            'maximum' => sprintf('must be %s or less', self::plain($args['max'] ?? '')),
            'type' => sprintf(
                'must be %s, not %s',
                implode(' or ', (array) ($args['expected'] ?? 'another type')),
                self::plain($args['type'] ?? 'this'),
            ),
            'pattern' => 'is not written as it should be',
            'anyOf' => 'names no place that exists here',
            'maxItems', 'minItems' => 'has too many or too few entries',
            'maxLength', 'minLength' => 'is too long or too short',
            default => 'does not fit: ' . $error->message(),
        };
    }

    private static function plain(mixed $value): string
    {
        return is_scalar($value) ? (string) $value : (string) json_encode(Helper::toJSON($value));
    }
}
