<?php

declare(strict_types=1);

namespace App\Read;

use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Support\Facades\DB;

/**
 * Rows of a table that hold a term. In time that does not grow with the table: among all by how a column begins and by its words,
 * among the latest wherever it stands. Anywhere: every row is read.
 *
 * @template M of Model
 */
final class FoundRows
{
    /** Of so many of the latest, each is read. */
    private const LATEST = 60;

    /** The shortest word that is looked for by its index. */
    private const WORD = 2;

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

    /**
     * By how a column begins, each by its own index.
     *
     * @return array{0: list<int>, 1: bool} ids, at the most so many of each column; whether one of them is the term itself
     */
    public function beginning(string $term, int $most): array
    {
        $escaped = addcslashes($term, '%_\\');
        $found = ($this->all)()->selectRaw('id, 0 as same')->whereRaw('1 = 0');
        foreach ($this->begins as $column) {
            $found->unionAll(($this->all)()->selectRaw('id, 1 as same')->where($column, $term)->orderByDesc('id')->limit($most));
            $found->unionAll(
                ($this->all)()
                    ->selectRaw('id, 0 as same')
                    ->where($column, 'like', "$escaped%")
                    ->orderBy($column)
                    ->limit($most),
            );
        }
        $rows = $found->toBase()->get();

        return [array_map(intval(...), array_values(array_unique($rows->pluck('id')->all()))), $rows->contains('same', 1)];
    }

    /** @return list<int> ids of the latest that hold the term anywhere */
    public function lately(string $term, int $most): array
    {
        $latest = ($this->all)()
            ->select(['id', ...$this->columns])
            ->orderByDesc($this->latest)
            ->limit(self::LATEST);
        $ids = DB::query()
            ->fromSub($latest, 'latest')
            ->where(function (\Illuminate\Database\Query\Builder $q) use ($term): void {
                foreach ($this->columns as $column) {
                    $q->orWhere($column, 'like', '%' . addcslashes($term, '%_\\') . '%');
                }
            })
            ->limit($most)
            ->pluck('id');

        return array_map(intval(...), array_values($ids->all()));
    }

    /** @return list<int> ids of those that have each word of the term: its rarest as a word begins, the others anywhere */
    public function worded(string $term, int $most): array
    {
        $words = array_filter(
            preg_split('/[^\p{L}\p{N}]+/u', $term, -1, PREG_SPLIT_NO_EMPTY) ?: [],
            fn(string $word): bool => mb_strlen($word) >= self::WORD,
        );

        if ($words === []) {
            return [];
        }
        // The one with digits, and the longest, is the rarest as a rule: the index is asked for that one, and what it finds for the others.
        $rare = fn(string $word): array => [preg_match('/\d/', $word), mb_strlen($word)];
        usort($words, fn(string $a, string $b): int => $rare($b) <=> $rare($a));
        $found = ($this->all)()->whereFullText($this->columns, "+$words[0]*", ['mode' => 'boolean']);
        foreach (array_slice($words, 1) as $word) {
            $found->where(fn(Builder $q): Builder => $this->holds($q, addcslashes($word, '%_\\')));
        }

        return array_map(intval(...), array_values($found->limit($most)->pluck('id')->all()));
    }

    /**
     * @param  Builder<M>  $q
     * @return Builder<M>
     */
    private function holds(Builder $q, string $escaped): Builder
    {
        foreach ($this->columns as $column) {
            $q->orWhere($column, 'like', "%$escaped%");
        }

        return $q;
    }

    /** @return list<int> ids, the latest first */
    public function anywhere(string $term, int $most): array
    {
        $escaped = addcslashes($term, '%_\\');

        $ids = ($this->all)()
            ->where(fn(Builder $q): Builder => $this->holds($q, $escaped))
            ->orderByDesc($this->latest)
            ->limit($most)
            ->pluck('id');

        return array_map(intval(...), array_values($ids->all()));
    }
}
