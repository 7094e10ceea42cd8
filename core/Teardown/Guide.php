<?php

declare(strict_types=1);

namespace Heartwood\Core\Teardown;

/** The teardown of a pack of the same model guides this one: what comes next, where it went another way, how long it takes. */
final readonly class Guide
{
    /**
     * @param  list<string>  $left  steps of the earlier one that did not come off here yet, by id
     * @param  list<string>  $deviations  what differs, in words
     */
    private function __construct(public ?string $next, public array $left, public array $deviations, public ?float $minutesLeft) {}

    /**
     * @param  list<Step>  $before  the teardown that guides
     * @param  list<Step>  $now
     */
    public static function of(array $before, array $now): self
    {
        $free = $before;
        $said = [];
        foreach ($now as $s) {
            $at = self::place($free, $s);
            if ($at === null) {
                $said[] = $before === [] ? '' : "{$s->words()}: not there last time.";

                continue;
            }
            $was = $free[$at];
            unset($free[$at]);
            if ($was->count !== $s->count) {
                $said[] = "{$s->what}" . ($s->where === '' ? '' : ", $s->where") . ": $was->count last time, $s->count now.";
            }
            if ($was->volts !== null && $s->volts !== null && $was->volts * $s->volts < 0.0) {
                $said[] = "{$s->words()}: its polarity is the other way round than last time.";
            }
        }
        $left = array_values($free);

        return new self(
            $left[0]->id ?? null,
            array_map(fn(Step $s): string => $s->id, $left),
            array_values(array_filter($said)),
            $left === [] ? null : array_sum(array_map(fn(Step $s): float => $s->minutes ?? 0.0, $left)),
        );
    }

    /**
     * The first that is the same thing at the same place, else the first that is the same thing.
     *
     * @param  array<int, Step>  $steps
     */
    private static function place(array $steps, Step $s): ?int
    {
        $like = fn(Step $o): bool => $o->part === $s->part && $o->kind() === $s->kind();
        foreach ([fn(Step $o): bool => $like($o) && Step::plain($o->where) === Step::plain($s->where), $like] as $same) {
            foreach ($steps as $k => $o) {
                if ($same($o)) {
                    return $k;
                }
            }
        }

        return null;
    }
}
