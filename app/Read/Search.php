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
            ->values();
        if (str_starts_with($term, '#') && $ids->isNotEmpty()) {
            return self::shown($ids, new Collection(), $term, $most);
        }
        [$begin, $isJob] = $jobs->beginning($term, $most);
        [$who, $isCustomer] = $customers->beginning($term, $most);
        $ids = $ids->concat($begin);
        // What is one's very name is what is meant.
        if (!$isJob && !$isCustomer) {
            $ids = $ids->concat($jobs->lately($term, $most));
            $who = [...$who, ...$customers->lately($term, $most)];
            $ids = $ids->count() < $most ? $ids->concat($jobs->worded($term, $most)) : $ids;
            $who = count($who) < $most ? [...$who, ...$customers->worded($term, $most)] : $who;
        }
        $people = self::merged($workshop, $who, $most);
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

        return self::shown($ids, $people, $term, $most);
    }

    /**
     * @param  \Illuminate\Support\Collection<array-key, mixed>  $ids  of jobs
     * @param  Collection<int, Customer>  $people
     * @return array{jobs: Collection<int, Job>, customers: Collection<int, Customer>}
     */
    private static function shown(\Illuminate\Support\Collection $ids, Collection $people, string $term, int $most): array
    {
        $people = self::asWritten($people, $term, fn(Customer $c): array => [$c->name, $c->phone, $c->email]);
        $theirs = Job::query()
            ->whereIn('customer_id', $people->modelKeys())
            ->when($people->isNotEmpty(), fn(Builder $q) => $q->orderByRaw('field(customer_id, ' . $people->implode('id', ', ') . ')'))
            ->orderByDesc('id')
            ->limit($most)
            ->pluck('id');
        $found = Job::query()->with('customer')->whereIn('id', $ids->concat($theirs))->orderByDesc('number')->get();
        $of = fn(Job $j): array => ["$j->number", "#$j->number", $j->name, $j->serial, $j->batch, $j->customer->name];

        return ['jobs' => self::asWritten($found, $term, $of)->take($most), 'customers' => $people];
    }

    /**
     * What is the term comes first, then what begins with it; the order stays as it is otherwise.
     *
     * @template M of \Illuminate\Database\Eloquent\Model
     *
     * @param  Collection<int, M>  $rows
     * @param  \Closure(M): non-empty-list<string>  $of
     * @return Collection<int, M>
     */
    private static function asWritten(Collection $rows, string $term, \Closure $of): Collection
    {
        $term = mb_strtolower($term);
        $rank = fn(string $text): int => match (true) {
            mb_strtolower($text) === $term => 0,
            str_starts_with(mb_strtolower($text), $term) => 1,
            default => 2,
        };

        return $rows->sortBy(fn(\Illuminate\Database\Eloquent\Model $row): int => min(array_map($rank, $of($row))))->values();
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
