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
                ->when($inService, fn(Builder $q) => $q->orderBy('next_at'))
                ->orderByDesc('id')
                ->limit($most)
                ->get();
        }
        $like = addcslashes($term, '%_\\') . '%';
        $ids = [];
        // One condition a question: an OR over three columns would look at every pack.
        foreach (
            [
                $all()->where('code', strtoupper(str_replace(['-', ' '], '', $term))),
                $all()->where('serial', 'like', $like)->orderBy('serial'),
                $all()->where('name', 'like', $like)->orderBy('name'),
            ]
            as $some
        ) {
            array_push($ids, ...$some->limit($most)->pluck('id')->all());
        }

        return Pack::query()
            ->with('customer')
            ->whereIn('id', array_slice(array_unique($ids), 0, $most))
            ->when($inService, fn(Builder $q) => $q->orderBy('next_at'))
            ->orderByDesc('id')
            ->get();
    }
}
