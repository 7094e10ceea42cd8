<?php

declare(strict_types=1);

namespace Heartwood\Core\Repair;

use Heartwood\Core\Limits\BenchTimes;
use Heartwood\Core\Record\Place;

/**
 * Several options of a verdict done as one plan: opened once, closed once, in the order in which a bench does them, with what they
 * leave together (handbook "Repair options").
 */
final readonly class Combined
{
    /** The order at the bench: what may change the plan first, then what alters the pack, then its charge, then what wants it closed. */
    private const ORDER = [
        RepairAction::RecoverPack,
        RepairAction::RecoverGroup,
        RepairAction::ReplaceCell,
        RepairAction::ReplaceGroup,
        RepairAction::Reweld,
        RepairAction::CleanJoint,
        RepairAction::RepairSense,
        RepairAction::RepairPath,
        RepairAction::ReplaceBoard,
        RepairAction::ChargeGroup,
        RepairAction::Balance,
        RepairAction::ChargePack,
        RepairAction::WakeBoard,
        RepairAction::RelearnGauge,
        RepairAction::LighterDuty,
        RepairAction::ReplaceCharger,
        RepairAction::RepairLoad,
        RepairAction::KeepWithTopup,
        RepairAction::Relabel,
    ];

    /** Steps that a plan has once, whatever it is made of. */
    private const ONCE = ['isolate', 'open', 'reread', 'close'];

    /** What is done to a group leaves nothing of it for another of these; the gentler comes first. */
    private const OF_A_GROUP = [RepairAction::RecoverGroup, RepairAction::ReplaceCell, RepairAction::ReplaceGroup];

    /** Whether an option can be part of a plan of several. */
    public static function may(RepairAction $action): bool
    {
        return in_array($action, self::ORDER, true);
    }

    /**
     * @param  list<Option>  $options
     * @return list<Option> in the order in which they are done
     */
    public static function ordered(array $options): array
    {
        usort(
            $options,
            fn(Option $a, Option $b): int => (int) array_search($a->action, self::ORDER, true) <=>
                (int) array_search($b->action, self::ORDER, true),
        );

        return $options;
    }

    /**
     * Why these are no plan together.
     *
     * @param  list<Option>  $options  two or more
     * @return string|null the mend; null when they are one
     */
    public static function against(array $options): ?string
    {
        foreach ($options as $o) {
            if (!self::may($o->action)) {
                return sprintf('"%s" stands by itself: nothing is added to it.', $o->action->title());
            }
        }
        foreach (self::shared($options) as $o) {
            if ($o->places === [] && in_array($o->action, self::OF_A_GROUP, true)) {
                return sprintf('Nothing is left of "%s" beside the others: leave it out.', $o->action->title());
            }
        }

        return null;
    }

    /**
     * Each group once: what is tried gently is not replaced in the same plan.
     *
     * @param  list<Option>  $options
     * @return list<Option> in the order in which they are done
     */
    public static function shared(array $options): array
    {
        $taken = $out = [];
        foreach (self::ordered($options) as $o) {
            if (!in_array($o->action, self::OF_A_GROUP, true)) {
                $out[] = $o;

                continue;
            }
            $mine = array_values(array_filter($o->places, fn(Place $p): bool => !isset($taken[$p->key()])));
            foreach ($mine as $p) {
                $taken[$p->key()] = true;
            }
            $share = count($mine) / max(1, count($o->places));
            $out[] =
                count($mine) === count($o->places)
                    ? $o
                    : new Option(
                        $o->action,
                        $mine,
                        null,
                        $o->leaves,
                        $o->why,
                        (int) round($o->cells * $share),
                        (int) round($o->handsMinutes * $share),
                        $o->waitHours,
                    );
        }

        return $out;
    }

    /**
     * All of them as one option. What one of them solves is not left by the plan; it is opened and closed once.
     *
     * @param  list<Option>  $options  two or more, of one verdict
     * @param  float|null  $usableAh  predicted of all of them together
     */
    public static function of(array $options, ?float $usableAh): Option
    {
        $options = self::ordered($options);
        $places = [];
        foreach ($options as $o) {
            foreach ($o->places as $p) {
                $places[$p->key()] = $p;
            }
        }
        $opens = count(array_filter($options, fn(Option $o): bool => self::opens($o->action)));

        return new Option(
            $options[0]->action,
            array_values($places),
            $usableAh,
            array_values(array_intersect(...array_map(fn(Option $o): array => $o->leaves, $options))),
            implode(' ', array_filter(array_map(fn(Option $o): string => $o->why, $options))),
            array_sum(array_map(fn(Option $o): int => $o->cells, $options)),
            array_sum(array_map(fn(Option $o): int => $o->handsMinutes, $options)) - max(0, $opens - 1) * BenchTimes::OPEN_MIN,
            array_sum(array_map(fn(Option $o): float => $o->waitHours, $options)),
        );
    }

    /** @param  list<Option>  $options  in order */
    public static function title(array $options): string
    {
        return RepairAction::together(
            array_map(
                fn(Option $o): array => [
                    'action' => $o->action->value,
                    'where' => array_map(fn(Place $p): ?array => $p->toArray(), $o->places),
                ],
                $options,
            ),
        );
    }

    /**
     * The work of all of them.
     *
     * @param  list<Option>  $options  in order
     * @return list<array{step: WorkStep, action: RepairAction, places: list<Place>|null}> each with what it belongs to; what a plan has
     *   once belongs to the first, and to all places: null
     */
    public static function steps(array $options): array
    {
        $once = $inside = $after = [];
        $pins = null;
        foreach ($options as $o) {
            foreach (WorkPlan::for($o->action) as $step) {
                $row = ['step' => $step, 'action' => $o->action, 'places' => $o->places];
                if (in_array($step->code, self::ONCE, true)) {
                    $once[$step->code] ??= ['action' => $options[0]->action, 'places' => null] + $row;
                } elseif ($step->code === 'pin-check') {
                    // The plug is read once, after the last that was done behind it.
                    if ($pins !== null) {
                        unset($inside[$pins]);
                    }
                    $inside[] = ['places' => null] + $row;
                    $pins = array_key_last($inside);
                } elseif (self::opens($o->action)) {
                    $inside[] = $row;
                } else {
                    $after[] = $row;
                }
            }
        }

        return array_values(
            array_filter(
                [
                    $once['isolate'] ?? null,
                    $once['open'] ?? null,
                    ...array_values($inside),
                    $once['reread'] ?? null,
                    $once['close'] ?? null,
                    ...$after,
                ],
                fn(?array $r): bool => $r !== null,
            ),
        );
    }

    /** Whether it is done on the open pack; a new build is one until it is closed. */
    private static function opens(RepairAction $action): bool
    {
        foreach (WorkPlan::for($action) as $step) {
            if ($step->code === 'close') {
                return true;
            }
        }

        return false;
    }
}
