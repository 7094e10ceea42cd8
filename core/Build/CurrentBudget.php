<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;

/**
 * The chain from cell to motor: what each link carries, what it must carry, which is the weakest, which fuse saves the
 * wire (handbook "Current budget"). Amps, volts, milliohm, seconds.
 */
final readonly class CurrentBudget
{
    /** A s^0.5 / mm2 of copper in the adiabatic equation (IEC 60364-5-54, PVC or better). */
    private const K = 115.0;

    private const EFFICIENCY = 0.9;

    /** Charge at the worst point. */
    private const WORST_SOC = 0.2;

    private const WELD_A = 6.0;

    /** A fuse is rated for so many times what it carries for good. */
    private const FUSE_OVER = 1.25;

    private const FUSES = [5, 7.5, 10, 15, 20, 25, 30, 35, 40, 50, 60, 70, 80, 100, 125, 150, 175, 200, 250, 300];

    /**
     * @param  list<array{element: string, title: string, continuous_a: float|null, peak_a: float|null, peak_s: float|null,
     *   margin: float|null, state: 'carries'|'short'|'unknown', note: string}>  $chain
     * @param  list<array{code: string, text: string}>  $findings
     * @param  array<string, mixed>|null  $fuse
     * @param  list<string>  $assumed  what nobody said and was taken
     */
    private function __construct(
        public float $loadA,
        public float $peakA,
        public string $how,
        public array $chain,
        public ?string $weakest,
        public array $findings,
        public ?array $fuse,
        public string $adiabatic,
        public array $assumed,
    ) {}

    /**
     * @param  Fields  $parts  wanted_a, wanted_peak_a, wanted_peak_s: what a person wants of it; soh (1 at the most), efficiency; strip
     *   {material, width_mm, thickness_mm, layers, length_mm, per_group}; welds_per_cell; joint_a; wire and wire_return {awg or mm2,
     *   parallel, equal_length, bundled}; connector {continuous_a, peak_a}; fuse {rating_a, dc_v, breaking_a, present, bypassed};
     *   switch_a; extra_ohm
     *
     * @throws \InvalidArgumentException a state of health over 1
     */
    public static function of(PackSpec $pack, Fields $parts): self
    {
        $profile = $pack->profile();
        $full = $pack->series * $pack->workingFullV();
        $p = $pack->parallel ?? 1;
        $soh = $parts->float('soh') ?? 1.0;
        if ($soh > 1.0) {
            throw new \InvalidArgumentException('soh: 1 at the most: no cell carries more than when it was new');
        }
        $cellOhm = ($pack->cell->float('resistance_mohm') ?? $pack->groupResistanceMohm() * $p) / 1000;
        $packOhm = ($pack->series * $cellOhm) / $p;
        $assumed = $pack->cell->float('resistance_mohm') === null ? [sprintf('%.0f mohm a cell', 1000 * $cellOhm)] : [];
        $efficiency = $parts->float('efficiency') ?? self::EFFICIENCY;
        $power = $pack->load->float('power_w');
        if ($power !== null && $parts->float('efficiency') === null) {
            $assumed[] = sprintf('%.0f %% of the power reaches the motor', 100 * $efficiency);
        }
        $limit = $pack->load->float('controller_limit_a');
        $rest = $pack->series * RestCurve::of($pack->chemistry)->volts(self::WORST_SOC);
        $load = $limit ?? 0.0;
        $how = $limit === null ? 'no load is known' : 'the controller\'s limit';
        $beyond = null;
        if ($power !== null && $power > 0) {
            $watts = $power / $efficiency;
            // P = V I with V = rest - I R at 20 % charge.
            $root = $rest * $rest - 4 * $packOhm * $watts;
            if ($root <= 0) {
                $beyond = sprintf(
                    '%.0f W cannot be had from it at all: %.0f W at the most, at a fifth of its charge.',
                    $power,
                    (($rest * $rest) / (4 * max(1e-9, $packOhm))) * $efficiency,
                );
            }
            $need = $root > 0 ? ($rest - sqrt($root)) / (2 * max(1e-9, $packOhm)) : $rest / (2 * max(1e-9, $packOhm));
            if ($limit === null || $need < $limit) {
                $load = $need;
                $how = sprintf(
                    '%.0f W at %.0f %% through %.1f V at a fifth of its charge, under load',
                    $power,
                    100 * $efficiency,
                    $rest - $need * $packOhm,
                );
            }
        }
        $wanted = $parts->float('wanted_a');
        if ($wanted !== null && $wanted > $load) {
            [$load, $how] = [$wanted, 'what is wanted of it'];
        }
        $peak = max($load, $pack->load->float('peak_a') ?? $load, $parts->float('wanted_peak_a') ?? $load);
        $peakS = $parts->float('wanted_peak_s') ?? $pack->load->float('peak_s');
        $chain = [];
        $add = function (string $element, string $title, ?float $continuous, ?float $peakRating, ?float $seconds, string $note) use (
            &$chain,
            $load,
            $peak,
            $peakS,
        ): void {
            $chain[] = [
                'element' => $element,
                'title' => $title,
                'continuous_a' => $continuous === null ? null : round($continuous, 2),
                'peak_a' => $peakRating === null ? null : round($peakRating, 2),
                'peak_s' => $seconds,
                'margin' => $continuous === null || $load <= 0 ? null : round($continuous / $load - 1, 4),
                'state' => self::state($load, $peak, $peakS, $continuous, $peakRating, $seconds),
                'note' => $note,
            ];
        };
        $cellA = $pack->cell->float('max_continuous_a');
        $cells = $cellA === null ? null : $cellA * $p * $soh;
        $cellPeak = $pack->cell->float('peak_a');
        $add(
            'cells',
            'Cells',
            $cells,
            $cellPeak === null ? null : $cellPeak * $p * $soh,
            $pack->cell->float('peak_s'),
            $cellA === null
                ? 'rating not known'
                : sprintf('%.1f A each, %d side by side%s', $cellA, $p, $soh < 1 ? sprintf(', %.0f %% of health', 100 * $soh) : ''),
        );
        $findings = [];
        $s = $parts->object('strip');
        $length = $s->float('length_mm') ?? 21.0;
        if ($s->string('material') !== null) {
            $strip = Strip::of(
                (string) $s->string('material'),
                $s->float('width_mm') ?? 8.0,
                $s->float('thickness_mm') ?? 0.15,
                (int) ($s->float('layers') ?? 1),
            );
            $links = $s->float('per_group') ?? (float) $p;
            $add(
                'links',
                'Series links',
                $strip->amps($length) * $links,
                null,
                null,
                sprintf(
                    '%d of %.0f x %.2f mm, %d layer%s, %.2f mohm each',
                    (int) $links,
                    $strip->widthMm,
                    $strip->thicknessMm,
                    $strip->layers,
                    $strip->layers === 1 ? '' : 's',
                    1000 * $strip->ohm($length),
                ),
            );
            $packOhm += (($pack->series - 1) * $strip->ohm($length)) / max(1.0, $links);
        } else {
            $add('links', 'Series links', null, null, null, 'not entered');
        }
        $welds = $parts->float('welds_per_cell');
        $add(
            'welds',
            'Welds',
            $welds === null ? null : $welds * self::WELD_A * $p,
            null,
            null,
            $welds === null ? 'not entered' : sprintf('%.0f spots a cell end, %.0f A a spot', $welds, self::WELD_A),
        );
        $joint = $parts->float('joint_a');
        $add('joints', 'Joints', $joint, null, null, $joint === null ? 'none or not entered' : 'bolted, torqued');
        $wire = Wire::of($parts->object('wire'));
        $back = Wire::of($parts->object('wire_return'));
        $add('wire', 'Main wire', $wire?->amps, null, null, $wire === null ? 'not entered' : $wire->note);
        if ($back !== null) {
            $add('wire-return', 'Main wire, other way', $back->amps, null, null, $back->note);
        }
        $mm2 = $wire === null ? null : min($wire->mm2 ?? INF, $back->mm2 ?? INF);
        $c = $parts->object('connector');
        $add(
            'connector',
            'Connector',
            $c->float('continuous_a'),
            $c->float('peak_a'),
            null,
            $c->float('continuous_a') === null ? 'rating not known' : '',
        );
        $f = $parts->object('fuse');
        $fuseA = $f->float('rating_a');
        $present = $f->bool('present') ?? $fuseA !== null;
        $add(
            'fuse',
            'Fuse',
            $present && $fuseA !== null ? $fuseA / self::FUSE_OVER : null,
            // What it lets through for a while stands in its curve, which nobody entered.
            null,
            null,
            !$present
                ? 'none'
                : ($fuseA === null
                    ? 'rating not known'
                    : sprintf('%.0f A: carries %.0f A for good', $fuseA, $fuseA / self::FUSE_OVER)),
        );
        $board = $pack->bms->float('discharge_limit_a');
        $add(
            'bms',
            'Board',
            $board,
            $pack->bms->float('peak_limit_a'),
            $pack->bms->float('peak_s'),
            $board === null ? 'rating not known' : '',
        );
        $switch = $parts->float('switch_a');
        $add('switch', 'Switch', $switch, null, null, $switch === null ? 'none or not entered' : '');

        $weakest = null;
        $least = INF;
        foreach ($chain as $link) {
            if ($link['continuous_a'] !== null && $link['continuous_a'] < $least) {
                [$least, $weakest] = [$link['continuous_a'], $link['element']];
            }
        }
        $title = fn(string $element): string => strtolower(array_column($chain, 'title', 'element')[$element]);
        // The fuse saves whatever is the weakest of what it lies in line with; the cells and the board have limits of their own.
        $conductors = array_filter(
            $chain,
            fn(array $l): bool => !in_array($l['element'], ['cells', 'fuse', 'bms'], true) && $l['continuous_a'] !== null,
        );
        $path = null;
        $of = '';
        foreach ([$wire, $back] as $lead) {
            if ($lead !== null && $lead->amps === null) {
                // A lead whose current nobody knows is saved by no fuse.
                $path = 0.0;
                $findings[] = ['code' => 'path.too-weak', 'text' => "Main wire of $lead->note: it is not passed."];
            }
        }
        foreach ($conductors as $link) {
            if ($path === null || $link['continuous_a'] < $path) {
                [$path, $of] = [$link['continuous_a'], strtolower($link['title'])];
            }
        }
        if ($beyond !== null) {
            $findings[] = ['code' => 'load.exceeds-cells', 'text' => $beyond];
        }
        foreach ($chain as $link) {
            if ($link['state'] === 'short' && !in_array($link['element'], ['cells', 'bms'], true)) {
                $findings[] = [
                    'code' => 'path.too-weak',
                    'text' =>
                        $link['continuous_a'] !== null && $link['continuous_a'] < $load
                            ? sprintf(
                                '%s: %.1f A for good, and %.1f A are drawn: it overheats.',
                                $link['title'],
                                $link['continuous_a'],
                                $load,
                            )
                            : sprintf('%s: peaks of %.1f A are more than it carries%s.', $link['title'], $peak, self::long($peakS)),
                ];
            }
        }
        if ($cells !== null && $load > $cells * 1.0001) {
            $findings[] = [
                'code' => 'load.exceeds-cells',
                'text' => sprintf(
                    'The device draws %.1f A and the cells are rated for %.1f A: a lower limit, or a larger pack.',
                    $load,
                    $cells,
                ),
            ];
        }
        if ($board !== null && $load > 0 && $board < $load) {
            $findings[] = [
                'code' => 'bms.limit-too-low',
                'text' => sprintf('The board cuts at %.1f A and the device draws %.1f A: it will trip.', $board, $load),
            ];
        }
        $carry = min($cells ?? INF, $path ?? INF);
        if ($board !== null && $board > $carry * 1.0001) {
            $findings[] = [
                'code' => 'bms.protects-nothing',
                'text' => sprintf(
                    'The board allows %.0f A, %s no more than %.1f A: it protects nothing.',
                    $board,
                    ($cells ?? INF) <= ($path ?? INF) ? 'the cells take' : 'the path takes',
                    $carry,
                ),
            ];
        }
        if ($f->bool('bypassed') === true) {
            $findings[] = ['code' => 'path.fuse-open', 'text' => 'The fuse is bridged: find why it went, then put one in again.'];
        } elseif (!$present) {
            $findings[] = ['code' => 'fuse.absent', 'text' => 'There is no fuse: a short in the harness is fed by the whole pack.'];
        }
        if ($present && $fuseA !== null && $path !== null && $fuseA > $path) {
            $findings[] = [
                'code' => 'fuse.above-wire',
                'text' => sprintf('A fuse of %.0f A over %s of %.1f A: that goes first.', $fuseA, $of, $path),
            ];
        }
        $most = ($cellPeak ?? $cellA) === null ? null : ($cellPeak ?? $cellA) * $p * $soh;
        if ($peak > $load && $most !== null && ($peak > $most || ($peakS ?? 0.0) > ($pack->cell->float('peak_s') ?? INF))) {
            $findings[] = [
                'code' => 'load.exceeds-cells',
                'text' => sprintf(
                    'Peaks of %.0f A%s, the cells are rated for %.0f A%s.',
                    $peak,
                    self::long($peakS),
                    $most,
                    $cellPeak === null ? ' for good, and no peak is known' : self::long($pack->cell->float('peak_s')),
                ),
            ];
        }
        $boardPeak = $pack->bms->float('peak_limit_a');
        if ($peak > $load && $boardPeak !== null && $boardPeak < $peak) {
            $findings[] = [
                'code' => 'bms.limit-too-low',
                'text' => sprintf('The board cuts at peaks of %.1f A and the device draws %.1f A: it will trip.', $boardPeak, $peak),
            ];
        }
        $short = $full / max(1e-4, $packOhm + ($parts->float('extra_ohm') ?? 0.002));

        return new self(
            $load,
            $peak,
            $how,
            $chain,
            $weakest === null
                ? null
                : sprintf(
                    '%s, %.1f A%s',
                    $title($weakest),
                    $least,
                    $load > 0 ? sprintf(', %+.0f %% to what is drawn', 100 * ($least / $load - 1)) : '',
                ),
            $findings,
            self::fuse($load, $path, $full, $short, $f),
            self::adiabatic($mm2 === INF ? null : $mm2, $short),
            $assumed,
        );
    }

    /**
     * Whether a link carries what is drawn, for good and at its peaks: what is not known is not passed.
     *
     * @return 'carries'|'short'|'unknown'
     */
    private static function state(float $load, float $peak, ?float $peakS, ?float $continuous, ?float $rated, ?float $ratedS): string
    {
        if ($load <= 0 || $continuous === null) {
            return $rated !== null && $load > 0 && $rated < $peak ? 'short' : 'unknown';
        }
        if ($continuous < $load) {
            return 'short';
        }
        if ($peak <= $continuous) {
            return 'carries';
        }
        if ($rated === null) {
            return 'unknown';
        }

        return $rated < $peak || ($peakS !== null && $ratedS !== null && $peakS > $ratedS) ? 'short' : 'carries';
    }

    private static function long(?float $seconds): string
    {
        return $seconds === null ? '' : sprintf(' for %.0f s', $seconds);
    }

    /** @return array<string, mixed>|null */
    private static function fuse(float $load, ?float $path, float $full, float $short, Fields $have): ?array
    {
        if ($load <= 0) {
            return null;
        }
        $rating = null;
        foreach (self::FUSES as $a) {
            if ($a >= self::FUSE_OVER * $load && ($path === null || $a <= $path)) {
                $rating = $a;
                break;
            }
        }

        return [
            'rating_a' => $rating,
            'dc_v' => round($full, 1),
            'breaking_a' => round($short),
            'text' =>
                $rating === null
                    ? sprintf(
                        'No fuse fits: at least %.1f A for the load, at most %.1f A for the path. A stronger path comes first.',
                        self::FUSE_OVER * $load,
                        $path ?? 0,
                    )
                    : sprintf('%s A, at least %.0f V DC, breaking %.0f A or more.', $rating, ceil($full), ceil($short / 100) * 100),
            'have_ok' =>
                $have->float('rating_a') === null
                    ? null
                    : $have->float('rating_a') >= self::FUSE_OVER * $load &&
                        ($path === null || $have->float('rating_a') <= $path) &&
                        ($have->float('dc_v') ?? 0) >= $full &&
                        ($have->float('breaking_a') ?? 0) >= $short,
        ];
    }

    private static function adiabatic(?float $mm2, float $short): string
    {
        if ($mm2 === null) {
            return 'Enter the wire to see how long it stands a short.';
        }
        $seconds = (self::K * $mm2) ** 2 / ($short * $short);

        return sprintf(
            'A short would draw some %.0f A; %.2f mm2 of copper stands that for %s. A thermal breaker takes seconds: it does not ' .
                'save the wire, a fuse with the breaking capacity does.',
            $short,
            $mm2,
            $seconds < 1 ? sprintf('%.0f ms', 1000 * $seconds) : sprintf('%.1f s', $seconds),
        );
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'load_a' => round($this->loadA, 3),
            'peak_a' => round($this->peakA, 3),
            'how' => $this->how,
            'chain' => $this->chain,
            'weakest' => $this->weakest,
            'findings' => $this->findings,
            'fuse' => $this->fuse,
            'adiabatic' => $this->adiabatic,
            'assumed' => $this->assumed,
        ];
    }
}
