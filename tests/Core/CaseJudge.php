<?php

declare(strict_types=1);

namespace Tests\Core;

/** Holds a verdict document against what a worked case expects of it. */
final class CaseJudge
{
    /**
     * @param  array<string, mixed>  $verdict
     * @param  array<string, mixed>  $expect
     * @return list<string> empty when the verdict is right
     */
    public static function complaints(array $verdict, array $expect): array
    {
        $out = [];
        foreach ($expect['must'] ?? [] as $must) {
            $p = array_sum(
                array_map(
                    fn(array $f): float => in_array($f['code'], $must['codes'], true) && self::at($must['where'], $f['where'])
                        ? $f['probability']
                        : 0.0,
                    $verdict['findings'],
                ),
            );
            if ($p < $must['probability_at_least']) {
                $out[] = sprintf('%s at %s: %.2f is too little', implode('|', $must['codes']), json_encode($must['where']), $p);
            }
        }
        foreach ($expect['must_not'] ?? [] as $not) {
            foreach ($verdict['findings'] as $f) {
                if (
                    in_array($f['code'], $not['codes'], true) &&
                    ($not['where'] === null || self::at($not['where'], $f['where'])) &&
                    $f['probability'] >= $not['probability_at_least']
                ) {
                    $out[] = sprintf('%s at %s: %.2f is too much', $f['code'], json_encode($f['where']), $f['probability']);
                }
            }
        }
        $first = $expect['first_finding_one_of'] ?? null;
        if ($first !== null && !in_array($verdict['findings'][0]['code'] ?? '', $first, true)) {
            $out[] = 'first finding is ' . ($verdict['findings'][0]['code'] ?? 'none');
        }

        return $out;
    }

    /**
     * @param  array<string, mixed>|null  $wanted
     * @param  array<string, mixed>|null  $found
     */
    private static function at(?array $wanted, ?array $found): bool
    {
        $k = $wanted['group_or_its_joints'] ?? null;

        return $k === null ? $wanted === $found : in_array($found, [['group' => $k], ['joint' => $k], ['joint' => $k - 1]], true);
    }
}
