<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Decision;
use App\Models\Verdict;
use App\Models\Workshop;
use Heartwood\Core\Diagnosis\Priors;

/** The workshop's own experience: what its closed jobs turned out to be, counted since the last reset. */
final class ShopPriors
{
    /** A closed job counts for a code when the verdict that was acted on was this sure of it. */
    private const SURE = 0.8;

    public static function of(int $workshop): Priors
    {
        $settings = Workshop::query()->where('id', $workshop)->value('settings') ?? [];

        return Priors::from($settings['prior_counts'] ?? []);
    }

    /** Adds a job that has just been closed to the workshop's counts. */
    public static function learn(int $workshop, int $job): void
    {
        $decision = Decision::query()->where('job_id', $job)->latest('id')->first();
        $verdict = $decision === null ? null : Verdict::query()->find($decision->verdict_id);
        $codes = array_unique(array_column(array_filter($verdict->document['findings'] ?? [], fn (array $f): bool => $f['probability'] >= self::SURE), 'code'));
        self::change($workshop, function (array $counts) use ($codes): array {
            foreach ($codes as $code) {
                $counts[$code] = ($counts[$code] ?? 0) + 1;
            }

            return $counts;
        });
    }

    public static function reset(int $workshop): void
    {
        self::change($workshop, fn (): array => []);
    }

    /** @param  callable(array<string, int>): array<string, int>  $how */
    private static function change(int $workshop, callable $how): void
    {
        $row = Workshop::query()->lockForUpdate()->findOrFail($workshop);
        $row->settings = ['prior_counts' => $how($row->settings['prior_counts'] ?? [])] + $row->settings;
        $row->save();
    }
}
