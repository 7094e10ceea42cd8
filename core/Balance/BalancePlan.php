<?php

declare(strict_types=1);

namespace Heartwood\Core\Balance;

use Heartwood\Core\Cell\JoinRule;
use Heartwood\Core\Cell\JoinSide;
use Heartwood\Core\Limits\CellLimits;
use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\PackSpec;

/**
 * How a pack is brought level, by every method there is, with hours and what each leaves (handbook "Balancing").
 * Charge 0..1 per group, Ah, A, V, hours.
 */
final readonly class BalancePlan
{
    /** Volts to which a shop of school B takes phosphate (handbook "Balancing"). */
    private const PHOSPHATE_B_V = 3.5;

    /** Current of capacity at which a top balance ends (handbook "Balancing"). */
    private const TOP_TAPER_C = 0.02;

    /** Charge apart that is level. */
    private const LEVEL = 0.01;

    /** A fill so small, of capacity, is none. */
    private const NOTHING = 0.003;

    /** Charge beyond what the volts allow: the fill ends by its taper. */
    private const BRIM = 1.2;

    /** A charger outruns the bleed only while the lowest group is further from full. */
    private const NEARLY_FULL = 0.97;

    /** Groups from which one that stands out can be told. */
    private const ENOUGH = 3;

    /** Under full by this the bleed begins. */
    private const UNDER_FULL_V = 0.05;

    /** Share of a charge cycle in which a passive board bleeds, when nothing holds the pack at the top. */
    public const CYCLE_DUTY = 0.2;

    public const ACTIVE_EFFICIENCY = 0.85;

    /** Under the limit that two in series share, so that neither can pass its own. */
    public const PAIR_MARGIN_V = 0.2;

    private const BLIND =
        'on the phosphate plateau volts do not tell charge: balancing by them moves it the wrong way. Fill ' . 'every group singly first';

    private RestCurve $curve;

    /**
     * @param  list<float>  $soc  of every group, from B-
     * @param  list<float>  $capacityAh
     * @param  list<float>  $ohm  of every group
     * @param  list<float>  $restV  as read, where known: a group past empty has no other figure
     */
    public function __construct(
        private PackSpec $pack,
        private array $soc,
        private array $capacityAh,
        private array $ohm,
        private BalanceMeans $means,
        private array $restV = [],
    ) {
        $this->curve = RestCurve::of($pack->chemistry);
    }

    public function fullV(): float
    {
        return $this->pack->chemistry->isPhosphate() && $this->means->phosphate === 'B'
            ? min(self::PHOSPHATE_B_V, $this->pack->workingFullV())
            : min($this->pack->profile()->fullV, $this->pack->workingFullV());
    }

    /** Rest volts of a group as read, else as its charge has them. */
    public function restV(int $group): float
    {
        return $this->restV[$group - 1] ?? $this->curve->volts($this->soc[$group - 1]);
    }

    /** Amps at which a fill to the top is stopped: handbook "Balancing", top-balance school C/50. */
    public function taperA(float $capacityAh, float $setA, bool $topBalance = false): float
    {
        return $topBalance ? self::TOP_TAPER_C * $capacityAh : min(RunLimits::TAIL_C * $capacityAh, RunLimits::TAIL_SHARE * $setA);
    }

    /** @return list<float> Ah that each group lacks to the level of the fullest, by amp-hours that fit in on top */
    public function lacksAh(): array
    {
        $room = $this->roomAh();
        $least = $room === [] ? 0.0 : min($room);

        return array_map(fn(float $r): float => $r - $least, $room);
    }

    /** @return string|null why no supply may be put on for balancing yet: a low group is recovered first, by its own rules */
    public function refuses(): ?string
    {
        $low = [];
        foreach ($this->soc as $i => $s) {
            if (($this->restV[$i] ?? $this->curve->volts($s)) < $this->pack->profile()->prechargeV) {
                $low[] = $i + 1;
            }
        }

        return $low === []
            ? null
            : sprintf(
                'Group %s stands under %.2f V: bring it up by the recovery plan first.',
                implode(', ', $low),
                $this->pack->profile()->prechargeV,
            );
    }

    /**
     * Only what is low, to the level of the fullest: by amp-hours, group after group. Not for phosphate, whose level
     * shows at the top alone.
     *
     * @return array{hours: float|null, order: list<array{group: int, ah: float, hours: float, taper_hours: float, taper_a: float,
     *   by_ah: bool}>, clip_moves: int}
     */
    public function level(): array
    {
        if ($this->pack->chemistry->isPhosphate()) {
            return ['hours' => null, 'order' => [], 'clip_moves' => 0];
        }
        $order = [];
        $hours = 0.0;
        $target = $this->soc === [] ? 0.0 : max($this->soc);
        foreach ($this->soc as $i => $from) {
            $c = $this->capacityAh[$i];
            if ($target - $from < self::LEVEL) {
                continue;
            }
            $fill = Fill::of($this->curve, $from, $target, $c, $this->ohm[$i], $this->means->supplyA, $this->fullV(), 0.0);
            $order[] = [
                'group' => $i + 1,
                'ah' => round(($target - $from) * $c, 3),
                'hours' => round($fill->hours, 3),
                'taper_hours' => 0.0,
                'taper_a' => 0.0,
                'by_ah' => true,
            ];
            $hours += $fill->hours + $this->means->clipMinutes / 60;
        }

        return ['hours' => $hours, 'order' => $order, 'clip_moves' => 2 * count($order)];
    }

    /**
     * Single-group fill: every group to full by its own, one after another, each finished before the clips move.
     *
     * @return array{hours: float, order: list<array{group: int, ah: float, hours: float, taper_hours: float, taper_a: float,
     *   by_ah: bool}>, clip_moves: int}
     */
    public function single(): array
    {
        $order = [];
        $hours = 0.0;
        foreach ($this->soc as $i => $from) {
            $c = $this->capacityAh[$i];
            $taper = $this->taperA($c, $this->means->supplyA, $this->pack->chemistry->isPhosphate() && $this->means->phosphate === 'B');
            $fill = Fill::of($this->curve, $from, self::BRIM, $c, $this->ohm[$i], $this->means->supplyA, $this->fullV(), $taper);
            if ($fill->ah < self::NOTHING * $c) {
                continue;
            }
            $order[] = [
                'group' => $i + 1,
                'ah' => round($fill->ah, 3),
                'hours' => round($fill->hours, 3),
                'taper_hours' => round($fill->taperHours, 3),
                'taper_a' => round($taper, 3),
                'by_ah' => false,
            ];
            $hours += $fill->hours + $this->means->clipMinutes / 60;
        }

        return ['hours' => $hours, 'order' => $order, 'clip_moves' => 2 * count($order)];
    }

    /**
     * Passive board: charged until the fullest stands at the top, then held there while the others come up.
     *
     * @return array{hours: float|null, charge_hours: float, bleed_hours: float, bleed_ah: list<float>, duty: float, why: string|null}
     */
    public function passive(): array
    {
        $bleed = $this->lacksAh();
        $i = $this->means->bleedA;
        if ($this->isBlind()) {
            return [
                'hours' => null,
                'charge_hours' => 0.0,
                'bleed_hours' => 0.0,
                'bleed_ah' => array_map(fn(): float => 0.0, $this->soc),
                'duty' => 0.0,
                'why' => self::BLIND,
            ];
        }
        $most = $bleed === [] ? 0.0 : max($bleed);
        $bleedAh = array_map(fn(float $x): float => round($most - $x, 3), $bleed);
        if ($i <= 0.0) {
            return [
                'hours' => null,
                'charge_hours' => 0.0,
                'bleed_hours' => 0.0,
                'bleed_ah' => $bleedAh,
                'duty' => 0.0,
                'why' => $this->means->active
                    ? 'This board moves charge from group to group; it bleeds nothing.'
                    : 'This board does not balance at all.',
            ];
        }
        $duty = $this->means->heldAtTop ? 1.0 : self::CYCLE_DUTY;
        // Up to the voltage at which bleeding starts at the charger's pace, from there no faster than it bleeds.
        $startSoc = $this->curve->socAt($this->bleedFromV());
        $before = INF;
        foreach ($this->soc as $k => $s) {
            $before = min($before, max(0.0, $startSoc - $s) * $this->capacityAh[$k]);
        }
        $before = is_finite($before) ? $before : 0.0;
        $chargeHours = $before / max(Tiny::SUM, $this->means->chargerA);
        $rest = 0.0;
        foreach ($this->soc as $k => $s) {
            $rest = max($rest, ($startSoc - $s) * $this->capacityAh[$k] - $before);
        }
        $bleedHours = $rest / $i / $duty;

        return [
            'hours' => $chargeHours + $bleedHours,
            'charge_hours' => $chargeHours,
            'bleed_hours' => $bleedHours,
            'bleed_ah' => $bleedAh,
            'duty' => $duty,
            'why' => null,
        ];
    }

    /**
     * Charge carried from what is over the mean to what is under it (handbook "Balancing": sum of excess over mean, by the
     * balancer's amps and its efficiency).
     *
     * @return array{hours: float|null, moved_ah: float, level_soc: float, why: string|null}
     */
    public function active(): array
    {
        if ($this->isBlind()) {
            return ['hours' => null, 'moved_ah' => 0.0, 'level_soc' => 0.0, 'why' => self::BLIND];
        }
        $all = array_sum($this->capacityAh);
        $mean = $all > 0 ? array_sum(array_map(fn(float $s, float $c): float => $s * $c, $this->soc, $this->capacityAh)) / $all : 0.0;
        [$excess] = $this->aboveAndBelow($mean);

        return [
            'hours' => $excess / (self::ACTIVE_EFFICIENCY * max(Tiny::SUM, $this->means->activeA)),
            'moved_ah' => $excess,
            'level_soc' => $mean,
            'why' => null,
        ];
    }

    /** Phosphate read on its plateau: volts say nothing of charge, so no method goes by them. */
    public function isBlind(): bool
    {
        return array_filter($this->restV, fn(float $v): bool => $this->curve->onPlateau($v)) !== [];
    }

    /**
     * All groups joined side by side and charged together to the voltage of one.
     *
     * @return array{hours: float, ah: float, amps: float, join: array<string, mixed>, allowed: bool}
     */
    public function parallel(): array
    {
        $c = array_sum($this->capacityAh);
        $conductance = array_sum(array_map(fn(float $r): float => 1 / max(Tiny::DIVISOR, $r), $this->ohm));
        $low = (int) array_search(min($this->soc === [] ? [0.0] : $this->soc), $this->soc, true);
        $high = (int) array_search(max($this->soc === [] ? [0.0] : $this->soc), $this->soc, true);
        $maxCharge =
            ($this->pack->cell->float('max_charge_a') ??
                (CellLimits::CHARGE_C * ($this->pack->groupCapacityAh() ?? PackSpec::UNKNOWN_AH)) / ($this->pack->parallel ?? 1)) *
            ($this->pack->parallel ?? 1);
        $side = fn(int $i): JoinSide => new JoinSide(
            $this->curve->volts($this->soc[$i]),
            $this->ohm[$i],
            $this->capacityAh[$i],
            $maxCharge,
            $this->pack->chemistry,
        );
        $join = JoinRule::check($side($high), $side($low));
        $mean = $c > 0 ? array_sum(array_map(fn(float $s, float $q): float => $s * $q, $this->soc, $this->capacityAh)) / $c : 0.0;
        $fill = Fill::of(
            $this->curve,
            $mean,
            self::BRIM,
            $c,
            1 / max(Tiny::SUM, $conductance),
            $this->means->supplyA,
            $this->fullV(),
            $this->taperA($c, $this->means->supplyA),
        );

        return [
            'hours' => $fill->hours,
            'ah' => $fill->ah,
            'amps' => $this->means->supplyA,
            'join' => $join->toArray(),
            'allowed' => $join->way === 'direct',
        ];
    }

    /**
     * What the charger does to the fullest group while the rest is still coming up.
     *
     * @return array{outruns: bool, group: int, after_ah: float, after_hours: float, lowest_group: int, lowest_soc: float, text: string}
     */
    public function charger(): array
    {
        if ($this->isBlind()) {
            return [
                'outruns' => false,
                'group' => 1,
                'after_ah' => 0.0,
                'after_hours' => 0.0,
                'lowest_group' => 1,
                'lowest_soc' => 0.0,
                'text' => 'Which group is full first cannot be told from volts on the plateau: watch every group near the top.',
            ];
        }
        $room = $this->roomAh();
        $k = (int) array_search($room === [] ? 0.0 : min($room), $room, true);
        $low = (int) array_search($room === [] ? 0.0 : max($room), $room, true);
        $i = $this->means->chargerA;
        // What the board takes off the fullest, whichever way it does it.
        $holds = $this->means->active ? $this->means->activeA : $this->means->bleedA;
        $net = $i - $holds;
        $startSoc = $this->curve->socAt($this->bleedFromV());
        $before = max(0.0, $startSoc - ($this->soc[$k] ?? 0.0)) * ($this->capacityAh[$k] ?? 1.0);
        $after = max(0.0, ($room[$k] ?? 0.0) - $before);
        $hours = $before / max(Tiny::SUM, $i) + ($net > 0 ? $after / $net : INF);
        $ah = is_finite($hours) ? $hours * $i : INF;
        $lowSoc = is_finite($ah) ? min(1.0, ($this->soc[$low] ?? 0.0) + $ah / ($this->capacityAh[$low] ?? 1.0)) : 1.0;
        $outruns = $net > 0 && $lowSoc < self::NEARLY_FULL;

        return [
            'outruns' => $outruns,
            'group' => $k + 1,
            'after_ah' => is_finite($ah) ? round($ah, 3) : 0.0,
            'after_hours' => is_finite($hours) ? round($hours, 2) : 0.0,
            'lowest_group' => $low + 1,
            'lowest_soc' => round($lowSoc, 3),
            'text' => $outruns
                ? sprintf(
                    'The charger pushes %.1f A and the board %s: group %d is full after %.1f h (%.1f Ah), group %d stands at ' .
                        '%.0f %% then. %s fill the low groups singly first.',
                    $i,
                    $holds <= 0.0
                        ? 'does not balance'
                        : sprintf($this->means->active ? 'carries %.2f A away from it' : 'bleeds %.2f A', $holds),
                    $k + 1,
                    $hours,
                    $ah,
                    $low + 1,
                    100 * $lowSoc,
                    $holds <= 0.0 ? 'Watch it, and' : sprintf('Slow the charger to %.2f A at the top, or', $holds),
                )
                : 'The charger does not outrun what the board can hold.',
        ];
    }

    /**
     * @return array{group: int, ohm: float, watt: float, hours: float}|null a resistor across the one high group; null when none
     * stands out
     */
    public function resistor(float $watt = 5.0): ?array
    {
        $room = $this->roomAh();
        if (count($room) < self::ENOUGH || $this->isBlind()) {
            return null;
        }
        asort($room);
        $k = array_key_first($room);
        $next = array_values($room)[1];
        $excess = $next - $room[$k];
        if ($excess < self::LEVEL * $this->capacityAh[$k]) {
            return null;
        }
        $v = $this->curve->volts($this->soc[$k]);
        $ohm = ($v * $v) / $watt;

        return ['group' => $k + 1, 'ohm' => round($ohm, 1), 'watt' => $watt, 'hours' => round($excess / ($v / $ohm), 2)];
    }

    /** @return list<string> */
    public function cautions(): array
    {
        $out = ['One supply on one group at a time, its limit set to ' . sprintf('%.2f V', $this->fullV()) . ' before it is clipped on.'];
        $out[] = sprintf(
            'Two groups in series on one supply are not controlled singly: limit the sum to %.2f V, read both, stop when either is full.',
            2 * $this->fullV() - self::PAIR_MARGIN_V,
        );
        $out[] = 'Groups that are not being charged relax meanwhile: they fall a little. That is normal and no leak.';
        if ($this->pack->chemistry->isPhosphate()) {
            $out[] =
                'On the plateau volts do not tell charge: balancing by voltage there moves charge the wrong way. Fill every ' .
                'group to the top first.';
        }

        return $out;
    }

    /** @return array{from_v: float, to_v: float} what a full group reads at the end of its taper and what it comes to at rest */
    public function relaxing(): array
    {
        return ['from_v' => round($this->fullV(), 3), 'to_v' => round(min($this->fullV(), $this->curve->topV()), 3)];
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        $single = $this->single();
        $passive = $this->passive();
        $active = $this->active();
        $parallel = $this->parallel();
        $level = $this->level();
        $methods = [
            [
                'method' => 'level',
                'title' => 'One supply on the low groups, to the level of the fullest',
                'hours' => $level['hours'] === null ? null : round($level['hours'], 2),
                'note' => $level['hours'] === null ? 'phosphate shows its level at the top only' : self::moves($level),
            ],
            [
                'method' => 'single',
                'title' => 'One supply, every group to full, in place',
                'hours' => round($single['hours'], 2),
                'note' => self::moves($single),
            ],
            [
                'method' => 'passive',
                'title' => 'The board bleeds at the top',
                'hours' => $passive['hours'] === null ? null : round($passive['hours'], 2),
                'note' => $passive['why'] ?? sprintf('%.2f A, charger held at the top', $this->means->bleedA),
            ],
            [
                'method' => 'active',
                'title' => $this->means->active ? 'The board moves charge from group to group' : 'An active balancer clipped on',
                'hours' => $active['hours'] === null ? null : round($active['hours'], 2),
                'note' =>
                    $active['why'] ??
                    sprintf(
                        '%.2f Ah carried at %.1f A, 15 %% lost on the way, level at %.0f %%',
                        $active['moved_ah'],
                        $this->means->activeA,
                        100 * $active['level_soc'],
                    ),
            ],
            [
                'method' => 'parallel',
                'title' => 'All groups side by side, charged together',
                'hours' => $parallel['allowed'] ? round($parallel['hours'], 2) : null,
                'note' => is_string($parallel['join']['text']) ? $parallel['join']['text'] : '',
            ],
        ];

        return [
            'full_v' => round($this->fullV(), 3),
            'blind' => $this->isBlind(),
            'lacks_ah' => array_map(fn(float $x): float => $this->isBlind() ? 0.0 : round($x, 3), $this->lacksAh()),
            'soc' => array_map(fn(float $x): float => round($x, 4), $this->soc),
            'methods' => $methods,
            'refuses' => $this->refuses(),
            'orders' => ['level' => $level['order'], 'single' => $single['order']],
            'clip_moves' => ['level' => $level['clip_moves'], 'single' => $single['clip_moves']],
            'bleed_ah' => $passive['bleed_ah'],
            'charger' => $this->charger(),
            'resistor' => $this->resistor(),
            'relaxing' => $this->relaxing(),
            'cautions' => $this->cautions(),
        ];
    }

    /** @param  array{order: list<mixed>, clip_moves: int}  $way */
    private static function moves(array $way): string
    {
        return sprintf('%d group%s, %d clip moves', count($way['order']), count($way['order']) === 1 ? '' : 's', $way['clip_moves']);
    }

    private function bleedFromV(): float
    {
        return $this->fullV() - self::UNDER_FULL_V;
    }

    /** @return list<float> Ah that each group takes until full */
    private function roomAh(): array
    {
        $out = [];
        foreach ($this->soc as $i => $s) {
            $out[] = (1 - $s) * $this->capacityAh[$i];
        }

        return $out;
    }

    /** @return array{float, float} Ah above a level, Ah wanting below it */
    private function aboveAndBelow(float $level): array
    {
        $out = $in = 0.0;
        foreach ($this->soc as $i => $s) {
            $d = ($s - $level) * $this->capacityAh[$i];
            $d > 0 ? ($out += $d) : ($in -= $d);
        }

        return [$out, $in];
    }
}
