<?php

declare(strict_types=1);

namespace App\Contract;

use Illuminate\Validation\ValidationException;

/** What a screen sends about a pack is held against the published schema of the job record. */
final class PackInput
{
    /**
     * @param  array<string, mixed>  $pack
     * @param  array<array-key, mixed>  $symptoms
     * @param  array<string, mixed>  $inspection
     *
     * @throws ValidationException fields named pack.series, inspection.swollen ...
     */
    public static function check(array $pack, array $symptoms, array $inspection): void
    {
        $document = [
            'format' => 'heartwood.job',
            'version' => 1,
            'pack' => self::objects($pack),
            'symptoms' => array_values($symptoms),
            'inspection' => (object) $inspection,
        ];
        $problems = SchemaCheck::problems(json_decode((string) json_encode($document)), 'job.schema.json');
        if ($problems !== []) {
            $fields = [];
            foreach ($problems as $p) {
                $fields[str_replace('/', '.', ltrim($p['pointer'], '/'))] = $p['message'];
            }
            throw ValidationException::withMessages($fields);
        }
    }

    /**
     * An empty group of fields is an object, not a list.
     *
     * @param  array<string, mixed>  $pack
     * @return array<string, mixed>
     */
    private static function objects(array $pack): array
    {
        return array_map(fn(mixed $v): mixed => $v === [] ? (object) [] : $v, $pack);
    }
}
