<?php

declare(strict_types=1);

namespace App\Actions;

use Illuminate\Database\Eloquent\Model;
use Illuminate\Support\Facades\DB;

/**
 * Edits carry the version that they were made on (`If-Match`, RFC 9110 13.1.1). An edit of a row that has changed since is
 * refused, with what it is now, so that a screen can show both sides.
 */
final class Version
{
    /** As it stands in `ETag`. */
    public static function tag(Model $row): string
    {
        return '"' . $row->getAttribute('version') . '"';
    }

    /**
     * The row as it is now, held until the transaction ends.
     *
     * @template T of Model
     *
     * @param  T  $row
     * @param  string|null  $version  the `If-Match` header; null: the edit does not say
     * @param  list<string>  $fields  that the edit writes
     * @return T
     *
     * @throws Refused 428 without a version, 412 with an old one
     */
    public static function lock(Model $row, ?string $version, array $fields): Model
    {
        if (DB::transactionLevel() === 0) {
            throw new \LogicException('an edit is made inside a transaction');
        }
        if ($version === null || $version === '') {
            throw new Refused(
                'no-version',
                'This edit does not say which version it was made on: send If-Match with the ETag you read.',
                428,
            );
        }
        /** @var T $fresh */
        $fresh = $row->newQuery()->lockForUpdate()->findOrFail($row->getKey());
        if ($version !== '*' && trim($version) !== self::tag($fresh)) {
            throw new Refused(
                'clash',
                'Somebody else has changed this since you opened it. Nothing of yours is lost: see both, and choose.',
                412,
                [],
                ['ETag' => self::tag($fresh)],
                ['now' => (object) array_intersect_key($fresh->toArray(), array_flip($fields))],
            );
        }
        $row->setRawAttributes($fresh->getAttributes(), true);

        return $row;
    }
}
