<?php

declare(strict_types=1);

namespace App\Http\Views;

use App\Actions\Version;
use App\Models\Customer;
use App\Models\Decision;
use App\Models\Job;

/** A customer with packs, jobs, money and promises. */
final class CustomerView
{
    /** @return array<string, mixed> */
    public static function of(Customer $customer): array
    {
        $jobs = Job::query()->with('customer')->where('customer_id', $customer->id)->orderByDesc('number')->get();
        $latest = Decision::query()
            ->whereIn('id', Decision::query()->selectRaw('max(id)')->whereIn('job_id', $jobs->pluck('id'))->groupBy('job_id'))
            ->get()
            ->keyBy('job_id');
        $quoted = fn(Job $j): ?int => isset($latest[$j->id]) ? (int) $latest[$j->id]->quote['total_cents'] : null;
        $packs = $jobs->groupBy(fn(Job $j): string => $j->serial !== '' ? "serial {$j->serial}" : "name {$j->name}");
        $sum = fn(callable $of): int => (int) $jobs->filter($of)->sum($quoted);

        return [
            'id' => $customer->id,
            'version' => Version::tag($customer),
            'name' => $customer->name,
            'contact' => $customer->contact,
            'phone' => $customer->phone,
            'email' => $customer->email,
            'address' => $customer->address,
            'agreements' => $customer->agreements,
            'notes' => $customer->notes,
            'since' => $customer->created_at->toIso8601ZuluString(),
            'forgotten_at' => $customer->forgotten_at?->toIso8601ZuluString(),
            'also' => Customer::query()->where('merged_into', $customer->id)->orderBy('name')->pluck('name')->all(),
            'jobs' => $jobs
                ->map(
                    fn(Job $j): array => JobRow::of($j) + [
                        'complaint' => $j->complaint,
                        'quoted_cents' => $quoted($j),
                        'decided' => $latest[$j->id]->action ?? null,
                        'closed_at' => $j->closed_at?->toIso8601ZuluString(),
                    ],
                )
                ->all(),
            'packs' => array_values(
                $packs
                    ->map(
                        fn($of): array => [
                            'name' => $of->first()?->name,
                            'serial' => $of->first()?->serial,
                            'jobs' => $of->pluck('number')->all(),
                        ],
                    )
                    ->all(),
            ),
            'promises' => array_values(
                $jobs
                    ->filter(fn(Job $j): bool => $j->status === 'open' && ($j->waits_until !== null || isset($latest[$j->id])))
                    ->map(
                        fn(Job $j): array => [
                            'job_id' => $j->id,
                            'number' => $j->number,
                            'what' => $latest[$j->id]->action ?? null,
                            'cents' => $quoted($j),
                            'until' => $j->waits_until?->toIso8601ZuluString(),
                            'for' => $j->waits_for,
                        ],
                    )
                    ->all(),
            ),
            'money' => [
                'quoted_open_cents' => $sum(fn(Job $j): bool => $j->status === 'open'),
                'returned_cents' => $sum(fn(Job $j): bool => $j->status === 'returned'),
                'jobs_returned' => $jobs->where('status', 'returned')->count(),
                'jobs_scrapped' => $jobs->where('status', 'scrapped')->count(),
            ],
        ];
    }
}
