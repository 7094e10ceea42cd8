<?php

declare(strict_types=1);

namespace Heartwood\Core\Batch;

use Heartwood\Core\Limits\BatchLimits;
use Heartwood\Core\Maths\Tiny;

/**
 * What of a lot can be begun today, with these supplies, places and hours of hands (handbook "Batches"): supplies first, for they run while
 * hands do something else; whatever is attended lies wholly inside the hours, and what needs a place on the shelf afterwards has one.
 */
final readonly class Today
{
    private const MINUTES = 60;

    /**
     * @param  list<array{pack: int, supply: int|null, from_min: int, to_min: int, needs_min: int}>  $begun  in the order in which they are
     *     begun; needs_min on a supply in all, of which the rest follows another day where the day is shorter
     * @param  array<int, string>  $left  why another is not among them, by pack
     */
    private function __construct(public array $begun, public array $left, public int $handsMin, public int $placesLeft) {}

    /**
     * @param  array<int, Wants>  $packs  by pack, in the order in which they came
     * @param  list<int>  $last  questionable ones: begun after the others
     * @param  int  $supplies  that nothing else uses now
     * @param  int  $places  free on the shelf
     * @param  float  $hours  of today, in which somebody is there
     */
    public static function of(array $packs, array $last, int $supplies, int $places, float $hours): self
    {
        $budget = (int) round(self::MINUTES * $hours);
        $order = array_values(
            array_filter(
                self::order($packs, $last),
                fn(int $p): bool => !in_array($packs[$p]->lane, ['held', 'shelf', 'supply', 'done'], true),
            ),
        );
        $atSupply = array_filter($order, fn(int $p): bool => $packs[$p]->hours > 0.0);
        [$begun, $left, $hands] = [[], [], 0];
        $until = array_fill(0, max(0, $supplies), 0);
        // What ends today first; then, on supplies that stand idle, what takes longer and goes on another day; then hands alone.
        foreach ([[false, $atSupply], [true, $atSupply], [null, array_diff($order, $atSupply)]] as [$part, $which]) {
            foreach ($which as $pack) {
                $w = $packs[$pack];
                if (isset($begun[$pack])) {
                    continue;
                }
                if ($hands + $w->minutes > $budget) {
                    $left[$pack] ??= sprintf('hands: %d of %d min are taken', $hands, $budget);

                    continue;
                }
                if ($part === null) {
                    $begun[$pack] = self::one($pack, null, $hands, $hands + $w->minutes, 0);
                    $hands += $w->minutes;

                    continue;
                }
                $needs = (int) ceil(self::MINUTES * $w->hours - Tiny::SUM);
                // Hands first, then the supply by itself with somebody near it.
                $free = self::free($until, $hands + $w->minutes, $part ? BatchLimits::SITTING_MIN : $needs, $budget);
                $full = !$part && $w->shelf && $places < 1;
                if ($free === null || $full || ($part && $w->minutes + $needs <= $budget)) {
                    $left[$pack] = match (true) {
                        $supplies < 1 => 'no supply is free',
                        $w->minutes + $needs > $budget => sprintf(
                            'takes %.1f h attended, %.1f h are there',
                            ($w->minutes + $needs) / self::MINUTES,
                            $hours,
                        ),
                        $w->shelf && $places < 1 => 'no place on the shelf for its hold test',
                        default => 'no supply is free long enough today',
                    };

                    continue;
                }
                unset($left[$pack]);
                $start = max($hands, $until[$free] - $w->minutes);
                $end = min($budget, max($start + $w->minutes, $until[$free]) + $needs);
                $begun[$pack] = self::one($pack, $free + 1, $start, $end, $needs);
                $until[$free] = $end;
                $hands += $w->minutes;
                $places -= $w->shelf && !$part ? 1 : 0;
            }
        }

        return new self(array_values($begun), $left, $hands, $places);
    }

    /** @return array{pack: int, supply: int|null, from_min: int, to_min: int, needs_min: int} */
    private static function one(int $pack, ?int $supply, int $from, int $to, int $needs): array
    {
        return ['pack' => $pack, 'supply' => $supply, 'from_min' => $from, 'to_min' => $to, 'needs_min' => $needs];
    }

    /**
     * The supply that is free first and long enough.
     *
     * @param  array<int, int>  $until  minutes at which each is free
     */
    private static function free(array $until, int $ready, int $needs, int $budget): ?int
    {
        $best = null;
        foreach ($until as $k => $at) {
            if (max($at, $ready) + $needs <= $budget && ($best === null || $at < $until[$best])) {
                $best = $k;
            }
        }

        return $best;
    }

    /**
     * Whatever wants a supply before what wants hands alone, the shortest first; what is nearest to going back before what begins.
     *
     * @param  array<int, Wants>  $packs
     * @param  list<int>  $last
     * @return list<int>
     */
    private static function order(array $packs, array $last): array
    {
        $near = array_flip(['back', 'proof', 'work', 'decide', 'probe']);
        $keys = array_keys($packs);
        $at = array_flip($keys);
        $rank = fn(int $k): array => [
            in_array($k, $last, true) ? 1 : 0,
            $packs[$k]->hours > 0.0 ? 0 : 1,
            $packs[$k]->hours,
            $near[$packs[$k]->lane] ?? PHP_INT_MAX,
            $at[$k],
        ];
        usort($keys, fn(int $a, int $b): int => $rank($a) <=> $rank($b));

        return $keys;
    }
}
