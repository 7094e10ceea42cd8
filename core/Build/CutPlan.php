<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

use Heartwood\Core\Limits\BuildLimits;
use Heartwood\Core\Maths\Tiny;

/** Pieces of strip out of what is bought: strips of one length, or a sheet that is slit into strips first. */
final readonly class CutPlan
{
    /**
     * @param  list<array{cuts: list<float>, rest_mm: float}>  $strips  lengths cut from each, longest first
     * @param  int  $sheets  0 where strips are bought as strips
     */
    private function __construct(
        public array $strips,
        public float $stockMm,
        public float $usedMm,
        public float $waste,
        public int $perSheet,
        public int $sheets,
    ) {}

    /**
     * The longest piece goes where least is left over (best fit, decreasing).
     *
     * @param  list<array{length_mm: float, pieces: int, ...}>  $cuts
     * @param  float|null  $sheetMm  width of a sheet across the strips; null for strips
     *
     * @throws CannotBuild a piece is longer than the stock, or the sheet is narrower than a strip
     */
    public static function of(
        array $cuts,
        float $stockMm = BuildLimits::STOCK_MM,
        ?float $sheetMm = null,
        float $stripMm = 0.0,
        float $kerfMm = BuildLimits::KERF_MM,
    ): self {
        $lengths = [];
        foreach ($cuts as $c) {
            array_push($lengths, ...array_fill(0, $c['pieces'], $c['length_mm']));
        }
        rsort($lengths);
        if ($lengths !== [] && $lengths[0] > $stockMm + Tiny::SLACK) {
            throw new CannotBuild(
                sprintf('The longest piece is %.1f mm and the stock is %.0f mm long: take longer stock.', $lengths[0], $stockMm),
                '/stock/length_mm',
            );
        }
        $perSheet = $sheetMm === null ? 0 : (int) floor(($sheetMm + $kerfMm) / ($stripMm + $kerfMm) + Tiny::SLACK);
        if ($sheetMm !== null && $perSheet < 1) {
            throw new CannotBuild(sprintf('A sheet of %.0f mm gives no strip of %.1f mm.', $sheetMm, $stripMm), '/stock/sheet_mm');
        }
        /** @var list<array{cuts: list<float>, rest_mm: float}> $strips */
        $strips = [];
        foreach ($lengths as $mm) {
            $at = null;
            foreach ($strips as $k => $s) {
                // Between two pieces a cut is lost, at the end of the stock none.
                if ($s['rest_mm'] >= $mm + $kerfMm - Tiny::SLACK && ($at === null || $s['rest_mm'] < $strips[$at]['rest_mm'])) {
                    $at = $k;
                }
            }
            if ($at === null) {
                $strips[] = ['cuts' => [$mm], 'rest_mm' => $stockMm - $mm];
            } else {
                $strips[$at] = ['cuts' => [...$strips[$at]['cuts'], $mm], 'rest_mm' => $strips[$at]['rest_mm'] - $mm - $kerfMm];
            }
        }
        $used = array_sum($lengths);
        $sheets = $perSheet === 0 ? 0 : (int) ceil(count($strips) / $perSheet);
        $bought = ($perSheet === 0 ? count($strips) : $sheets * $perSheet) * $stockMm;

        return new self(
            array_map(fn(array $s): array => ['cuts' => $s['cuts'], 'rest_mm' => round($s['rest_mm'], 1)], $strips),
            $stockMm,
            $used,
            $bought > 0 ? 1 - $used / $bought : 0.0,
            $perSheet,
            $sheets,
        );
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        $alike = [];
        foreach ($this->strips as $s) {
            $key = implode(' ', $s['cuts']);
            $alike[$key] ??= ['strips' => 0] + $s;
            $alike[$key]['strips']++;
        }

        return [
            'stock_mm' => $this->stockMm,
            'strips' => count($this->strips),
            'strips_of_sheet' => $this->perSheet,
            'sheets' => $this->sheets,
            'used_mm' => round($this->usedMm, 1),
            'waste' => round($this->waste, 4),
            'plan' => array_values($alike),
        ];
    }
}
