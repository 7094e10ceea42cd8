<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Limits\TrainerLimits;

/**
 * When a kind of fault comes back to somebody: what is remembered of it halves in a time that grows with each round in which it was
 * told and shrinks with each in which it was missed (a forgetting curve by half-life, per person and kind).
 */
final class Spacing
{
    /** @param  array<string, array{half: float, last: float, seen: int, missed: int}>  $kinds  half-life and last round, in days */
    private function __construct(private readonly array $kinds) {}

    /** @param  list<Attempt>  $attempts  of one person, in the order in which they ended */
    public static function of(array $attempts): self
    {
        $kinds = [];
        foreach ($attempts as $a) {
            foreach ($a->kinds as $kind) {
                $k = $kinds[$kind] ?? ['half' => TrainerLimits::FIRST_HALF_DAYS, 'last' => $a->days, 'seen' => 0, 'missed' => 0];
                $told = $a->safe && $a->placeRight;
                // What nobody had told yet has nothing to grow from: the first round sets it.
                $half = $k['half'] * ($told ? ($k['seen'] === 0 ? 1.0 : TrainerLimits::HALF_GROWS) : TrainerLimits::HALF_SHRINKS);
                $kinds[$kind] = [
                    'half' => max(TrainerLimits::LEAST_HALF_DAYS, min(TrainerLimits::MOST_HALF_DAYS, $half)),
                    'last' => $a->days,
                    'seen' => $k['seen'] + 1,
                    'missed' => $k['missed'] + ($told ? 0 : 1),
                ];
            }
        }

        return new self($kinds);
    }

    /** @return float|null share that is remembered of a kind by then; null where it was never met */
    public function recall(string $kind, float $days): ?float
    {
        $k = $this->kinds[$kind] ?? null;

        return $k === null ? null : 2 ** (-max(0.0, $days - $k['last']) / $k['half']);
    }

    /** @return list<array{kind: string, recall: float, due_days: float, seen: int, missed: int}> the least remembered first */
    public function all(float $days): array
    {
        $out = [];
        foreach ($this->kinds as $kind => $k) {
            $out[] = [
                'kind' => $kind,
                'recall' => (float) $this->recall($kind, $days),
                'due_days' => $k['last'] + $k['half'] * -log(TrainerLimits::RECALL_DUE, 2),
                'seen' => $k['seen'],
                'missed' => $k['missed'],
            ];
        }
        usort($out, fn(array $a, array $b): int => $a['recall'] <=> $b['recall'] ?: strcmp($a['kind'], $b['kind']));

        return $out;
    }

    /** @return list<string> kinds that are due by then, the least remembered first; that nothing is wrong comes by chance alone */
    public function due(float $days): array
    {
        return array_values(
            array_map(
                fn(array $k): string => $k['kind'],
                array_filter(
                    $this->all($days),
                    fn(array $k): bool => $k['recall'] < TrainerLimits::RECALL_DUE && $k['kind'] !== Attempt::NOTHING,
                ),
            ),
        );
    }

    /**
     * Of seeds that chance gave, the one that the next round is drawn from: of a kind that is due where the first of them says so,
     * else the first.
     *
     * @param  non-empty-list<int>  $seeds
     */
    public function pick(int $level, float $days, array $seeds): int
    {
        $first = Rounds::kinds($level, $seeds[0]);
        $due = $this->due($days);
        $luck = new Luck((string) $seeds[0], 'spacing');
        if ($first === [Ailment::Nothing] || $due === [] || !$luck->happens(TrainerLimits::DUE_SHARE)) {
            return $seeds[0];
        }
        foreach ($due as $kind) {
            foreach ($seeds as $seed) {
                if (in_array($kind, array_map(fn(Ailment $a): string => $a->value, Rounds::kinds($level, $seed)), true)) {
                    return $seed;
                }
            }
        }

        return $seeds[0];
    }
}
