<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\EventKind;
use App\Models\Decision;
use App\Models\Event;
use Heartwood\Core\Money\ShopMinutes;

/** How long each kind of work takes in this shop, from its closed jobs: computed only. */
final class OwnMinutes
{
    /** Jobs that are looked back at. */
    private const BACK = 500;

    /** @return array<string, float> minutes for one place of each part of what was decided, where its work was timed */
    public static function ofWork(Decision $decision): array
    {
        $places = [];
        foreach ($decision->option['parts'] ?? [['action' => $decision->action] + $decision->option] as $p) {
            $places[(string) $p['action']] = count(array_filter((array) ($p['where'] ?? [])));
        }

        return ShopMinutes::ofWork(
            array_map(
                fn(array $s): array => [
                    'action' => (string) ($s['action'] ?? $decision->action),
                    'state' => (string) $s['state'],
                    'minutes' => $s['minutes'],
                ],
                WorkSteps::of($decision),
            ),
            $places,
        );
    }

    /** @return array<string, array{minutes: int, times: int}> for one place of each action that was done often enough */
    public static function of(int $workshop): array
    {
        $by = [];
        $events = Event::query()
            ->where('workshop_id', $workshop)
            ->where('kind', EventKind::WorkTimed)
            ->orderByDesc('id')
            ->limit(self::BACK)
            ->get(['job_id', 'data']);
        foreach ($events as $e) {
            // A job that was opened again is timed again: the last counts.
            $by[(string) $e->data['action']][(int) $e->job_id] ??= (float) $e->data['minutes'];
        }
        $out = [];
        foreach ($by as $action => $minutes) {
            $usual = ShopMinutes::usual(array_values($minutes));
            if ($usual !== null) {
                $out[$action] = ['minutes' => $usual, 'times' => count($minutes)];
            }
        }

        return $out;
    }

    /**
     * An option of a verdict with the shop's own minutes in the place of the handbook's.
     *
     * @param  array<string, mixed>  $option
     * @param  array<string, array{minutes: int, times: int}>  $own
     * @return array<string, mixed>
     */
    public static function in(array $option, array $own): array
    {
        $mine = $own[(string) $option['action']] ?? null;

        return $mine === null
            ? $option
            : ['hands_minutes' => $mine['minutes'] * max(1, count((array) ($option['where'] ?? []))), 'hands_from' => $mine['times']] +
                    $option;
    }
}
