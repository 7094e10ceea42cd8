<?php

declare(strict_types=1);

namespace App\Read;

use App\Models\Pack;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Collection;

/** Packs by code, serial or name, or those in service by their next reading: each by an index of its own, however many there are. */
final class FoundPacks
{
    /** @return Collection<int, Pack> */
    public static function of(int $workshop, string $term, bool $inService, ?int $customer, int $most): Collection
    {
        $all = fn(): Builder => Pack::query()
            ->where('workshop_id', $workshop)
            ->when($customer !== null, fn(Builder $q) => $q->where('customer_id', $customer))
            ->when($inService, fn(Builder $q) => $q->whereNotNull('next_at'));
        if ($term === '') {
            return $all()
                ->with('customer')
                // In the order of one index, so that no more is read than is shown.
                ->when($inService, fn(Builder $q) => $q->orderBy('next_at')->orderBy('id'), fn(Builder $q) => $q->orderByDesc('id'))
                ->limit($most)
                ->get();
        }
        $coded = Pack::coded($workshop, $term);
        if ($coded !== null) {
            return $all()->with('customer')->whereKey($coded->id)->get();
        }
        $like = addcslashes($term, '%_\\') . '%';
        $some = fn(string $column): Builder => $all()->select('id')->where($column, 'like', $like)->orderBy($column)->limit($most);
        // One condition a part, each by its own index: an OR over two columns would look at every pack.
        $ids = $some('serial')->unionAll($some('name'))->pluck('id')->unique()->take($most);

        return Pack::query()
            ->with('customer')
            ->whereIn('id', $ids)
            ->when($inService, fn(Builder $q) => $q->orderBy('next_at'))
            ->orderByDesc('id')
            ->get();
    }
}
