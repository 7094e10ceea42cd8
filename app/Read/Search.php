<?php

declare(strict_types=1);

namespace App\Read;

use App\Models\Customer;
use App\Models\Job;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Collection;

/** Jobs by number, name, serial, batch, complaint or whose they are, the latest first; customers by name, number or address. */
final class Search
{
    /** Digits from which a term is a telephone number rather than the number of a job. */
    private const NUMBER_DIGITS = 6;

    /**
     * @param  int  $most  of each
     * @return array{jobs: Collection<int, Job>, customers: Collection<int, Customer>}
     */
    public static function of(int $workshop, string $term, int $most): array
    {
        $jobs = new FoundRows(
            fn(): Builder => Job::query()->where('workshop_id', $workshop),
            ['name', 'serial', 'batch', 'complaint'],
            ['serial', 'name', 'batch'],
            'number',
        );
        $customers = new FoundRows(
            fn(): Builder => Customer::query()->where('workshop_id', $workshop),
            ['name', 'contact', 'phone', 'email', 'address'],
            ['name', 'phone', 'email'],
            'id',
        );
        $number = ltrim($term, '#');
        $ids = Job::query()
            ->where('workshop_id', $workshop)
            ->where('number', ctype_digit($number) ? (int) $number : 0)
            ->pluck('id')
            ->concat($jobs->quick($term, $most));
        $people = self::merged($workshop, $customers->quick($term, $most), $most);
        // However its digits are set apart, a telephone number is found; it is in no index.
        if ($people->isEmpty() && preg_match('/^[\d\s+()\/.-]+$/', $term) === 1) {
            if (strlen((string) preg_replace('/\D+/', '', $term)) >= self::NUMBER_DIGITS) {
                $people = Customer::matching($workshop, $term)->orderBy('name')->limit($most)->get();
            }
        }
        if ($ids->isEmpty() && $people->isEmpty()) {
            $ids = collect($jobs->anywhere($term, $most));
            $people = Customer::matching($workshop, $term)->orderBy('name')->limit($most)->get();
        }
        $theirs = Job::query()->whereIn('customer_id', $people->modelKeys())->orderByDesc('id')->limit($most)->pluck('id');

        return [
            'jobs' => Job::query()->with('customer')->whereIn('id', $ids->concat($theirs))->orderByDesc('number')->limit($most)->get(),
            'customers' => $people,
        ];
    }

    /**
     * Who they are now: a name that was merged away leads to where it went.
     *
     * @param  list<int>  $ids
     * @return Collection<int, Customer>
     */
    private static function merged(int $workshop, array $ids, int $most): Collection
    {
        $into = Customer::query()
            ->whereIn('id', $ids)
            ->get(['id', 'merged_into'])
            ->map(fn(Customer $c): int => $c->merged_into ?? $c->id);

        return Customer::of($workshop)->whereIn('id', $into)->orderBy('name')->limit($most)->get();
    }
}
