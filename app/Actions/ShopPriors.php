<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Workshop;
use Heartwood\Core\Diagnosis\Priors;

/** The workshop's own experience: what its closed jobs turned out to be, counted since the last reset. */
final class ShopPriors
{
    public static function of(int $workshop): Priors
    {
        $settings = Workshop::query()->where('id', $workshop)->value('settings') ?? [];

        return Priors::from($settings['prior_counts'] ?? []);
    }

    /**
     * Adds a job that has just been closed to the workshop's counts: what it was in the end, as somebody saw it, never
     * what the verdict thought.
     *
     * @param  list<array{code: string}>|null  $truth  null: nobody knows, nothing is learnt
     */
    public static function learn(int $workshop, ?array $truth, int $by = 1): void
    {
        $codes = array_unique(array_column($truth ?? [], 'code'));
        if ($codes === []) {
            return;
        }
        self::change($workshop, function (array $counts) use ($codes, $by): array {
            foreach ($codes as $code) {
                $counts[$code] = max(0, ($counts[$code] ?? 0) + $by);
            }

            return $counts;
        });
    }

    public static function reset(int $workshop): void
    {
        self::change($workshop, fn(): array => []);
    }

    /** @param  callable(array<string, int>): array<string, int>  $how */
    private static function change(int $workshop, callable $how): void
    {
        $row = Workshop::query()->lockForUpdate()->findOrFail($workshop);
        $row->settings = ['prior_counts' => $how($row->settings['prior_counts'] ?? [])] + $row->settings;
        $row->save();
    }
}
