<?php

declare(strict_types=1);

namespace App\Read;

use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Support\Facades\DB;

/**
 * Rows of a table that hold a term. Quick, in time that does not grow with the table: among the latest wherever it stands, among all
 * by how a column begins and by its words. Anywhere: every row is read.
 *
 * @template M of Model
 */
final class FoundRows
{
    /** Of so many of the latest, each is read. */
    private const LATEST = 200;

    /** The shortest word that is looked for by its index. */
    private const WORD = 3;

    /**
     * @param  \Closure(): Builder<M>  $all  those that may be found
     * @param  list<string>  $columns  what is read
     * @param  list<string>  $begins  of them, those that an index finds by how they begin
     * @param  string  $latest  the column that grows with time, and has an index
     */
    public function __construct(
        private readonly \Closure $all,
        private readonly array $columns,
        private readonly array $begins,
        private readonly string $latest,
    ) {}

    /** @return list<int> ids, at the most so many of each way to find them */
    public function quick(string $term, int $most): array
    {
        $escaped = addcslashes($term, '%_\\');
        $latest = DB::query()
            ->fromSub(
                ($this->all)()
                    ->select(['id', ...$this->columns])
                    ->orderByDesc($this->latest)
                    ->limit(self::LATEST),
                'latest',
            )
            ->where(function (\Illuminate\Database\Query\Builder $q) use ($escaped): void {
                foreach ($this->columns as $column) {
                    $q->orWhere($column, 'like', "%$escaped%");
                }
            })
            ->limit($most)
            ->pluck('id')
            ->all();
        $beginning = ($this->all)()->select('id')->whereRaw('1 = 0');
        foreach ($this->begins as $column) {
            // One condition a part, each by its own index: an OR over two columns would look at every row.
            $beginning->unionAll(
                ($this->all)()
                    ->select('id')
                    ->where($column, 'like', "$escaped%")
                    ->orderBy($column)
                    ->limit($most),
            );
        }
        $found = array_unique([...$latest, ...$beginning->pluck('id')->all()]);
        if (count($found) < $most) {
            $found = array_unique([...$found, ...$this->worded($term, $most)]);
        }

        return array_map(intval(...), array_values($found));
    }

    /** @return list<mixed> ids of those that have each word of the term, as a word begins */
    private function worded(string $term, int $most): array
    {
        $words = array_filter(
            preg_split('/[^\p{L}\p{N}]+/u', $term, -1, PREG_SPLIT_NO_EMPTY) ?: [],
            fn(string $word): bool => mb_strlen($word) >= self::WORD,
        );

        if ($words === []) {
            return [];
        }
        $all = implode(' ', array_map(fn(string $word): string => "+$word*", $words));

        return array_values(
            ($this->all)()
                ->whereFullText($this->columns, $all, ['mode' => 'boolean'])
                ->limit($most)
                ->pluck('id')
                ->all(),
        );
    }

    /** @return list<int> ids, the latest first */
    public function anywhere(string $term, int $most): array
    {
        $escaped = addcslashes($term, '%_\\');

        $ids = ($this->all)()
            ->where(function (Builder $q) use ($escaped): void {
                foreach ($this->columns as $column) {
                    $q->orWhere($column, 'like', "%$escaped%");
                }
            })
            ->orderByDesc($this->latest)
            ->limit($most)
            ->pluck('id');

        return array_map(intval(...), array_values($ids->all()));
    }
}
