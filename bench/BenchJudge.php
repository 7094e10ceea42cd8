<?php

declare(strict_types=1);

namespace Heartwood\Bench;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\Verdict;

/** Holds a verdict against what was done to the pack. */
final class BenchJudge
{
    /** Findings that follow from others or are notes: they neither lead a verdict nor are false alarms. */
    public const DERIVED = [
        'pack.spread',
        'bms.balance-insufficient',
        'charger.outruns-balance',
        'bms.protecting',
        'reading.phantom',
        'label.inconsistent',
        'reading.inconsistent',
    ];

    /** @param  array{codes: list<string>, where: list<array<string, int>|null>}  $want */
    public static function at(Finding $f, array $want): bool
    {
        return in_array($f->code, $want['codes'], true) && in_array($f->place->toArray(), $want['where'], true);
    }

    /**
     * @param  array{record: array<string, mixed>, want: list<array{codes: list<string>, where: list<array<string, int>|null>}>,
     *   not: list<string>, enough: bool, healthy: bool}  $case
     * @return list<string> empty when the verdict is right
     */
    public static function complaints(array $case, Verdict $verdict): array
    {
        $why = [];
        $serious = array_values(
            array_filter(
                $verdict->findings,
                fn(Finding $f): bool => $f->severity->value !== 'note' && !in_array($f->code, self::DERIVED, true),
            ),
        );
        $first = $serious[0] ?? null;
        foreach ($verdict->findings as $f) {
            if (in_array($f->code, $case['not'], true) && $f->probability >= 0.5) {
                $why[] = sprintf('says %s at %.2f', $f->code, $f->probability);
            }
        }
        foreach ($case['enough'] ? $case['want'] : [] as $w) {
            $p = array_sum(array_map(fn(Finding $f): float => self::at($f, $w) ? $f->probability : 0.0, $verdict->findings));
            if ($p < 0.5) {
                $why[] = sprintf('%s only at %.2f', implode('|', $w['codes']), $p);
            }
        }
        $known = $first !== null && array_filter($case['want'], fn(array $w): bool => self::at($first, $w)) !== [];
        if ($case['healthy'] && $first !== null && $first->probability >= 0.35) {
            $why[] = sprintf('false alarm: %s at %.2f', $first->code, $first->probability);
        } elseif ($case['want'] !== [] && $first !== null && !$known) {
            if ($case['enough'] && array_diff(array_merge(...array_column($case['want'], 'codes')), self::DERIVED) !== []) {
                $why[] = sprintf('first is %s at %.2f', $first->code, $first->probability);
            } elseif (!$case['enough'] && $first->probability > 0.85) {
                $why[] = sprintf('sure of %s at %.2f', $first->code, $first->probability);
            }
        }
        if (!$case['enough'] && $verdict->nextTests === []) {
            $why[] = 'asks for nothing';
        }
        if ($verdict->options === []) {
            $why[] = 'offers nothing';
        }
        foreach ($verdict->options as $o) {
            foreach ($o->places as $place) {
                foreach ($case['want'] as $w) {
                    if (
                        in_array($o->action->value, ['recover-group', 'charge-group', 'balance'], true) &&
                        array_diff($w['codes'], ['group.dead', 'group.reversed']) === [] &&
                        in_array($place->toArray(), $w['where'], true)
                    ) {
                        $why[] = "unsafe: {$o->action->value}";
                    }
                }
            }
        }

        return $why;
    }
}
