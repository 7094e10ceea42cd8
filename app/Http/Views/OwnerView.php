<?php

declare(strict_types=1);

namespace App\Http\Views;

use App\Models\Pack;
use App\Models\ServiceReading;
use App\Read\PackWatch;
use App\Read\Passport;
use Heartwood\Core\Drift\Verdict;
use Illuminate\Database\Eloquent\Collection;

/** What an owner sees of a pack: its state, what to do and when, and what was read. No names, no prices, no other pack. */
final class OwnerView
{
    private const SHOWN = 12;

    /** @return array<string, mixed> */
    public static function of(Pack $pack): array
    {
        $spec = $pack->packSpec();
        /** @var Collection<int, ServiceReading> $read */
        $read = PackWatch::standing($pack)->orderByDesc('at')->limit(self::SHOWN)->get();

        return [
            'name' => $pack->name,
            'code' => Passport::code($pack->code),
            'workshop' => (string) \App\Models\Workshop::query()->whereKey($pack->workshop_id)->value('name'),
            'series' => $spec->series,
            'phosphate' => $spec->chemistry->isPhosphate(),
            'watched' => $pack->work_ended_at !== null,
            'state' => $pack->state,
            'stopped' => $pack->stopped_at !== null,
            'next_at' => $pack->next_at?->toIso8601ZuluString(),
            'due' => $pack->next_at !== null && $pack->next_at->isPast(),
            'topup' => self::topUp($pack),
            'glance' => $pack->glance,
            'readings' => array_values(
                $read
                    ->map(
                        fn(ServiceReading $r): array => [
                            'at' => $r->at->toIso8601ZuluString(),
                            'mine' => $r->source === 'owner',
                            'spread_mv' => $r->point()->spreadV() === null ? null : round(Verdict::MV * (float) $r->point()->spreadV()),
                            'answer' => (string) ($r->answer['answer'] ?? ''),
                        ],
                    )
                    ->all(),
            ),
        ];
    }

    /** @return array{every_days: int, at: string, due: bool}|null without what of it leaks */
    private static function topUp(Pack $pack): ?array
    {
        $t = Passport::topUp($pack);

        return $t === null ? null : array_intersect_key($t, ['every_days' => 1, 'at' => 1, 'due' => 1]);
    }
}
