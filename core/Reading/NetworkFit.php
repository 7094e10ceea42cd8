<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

use Heartwood\Core\Maths\PositiveMatrix;

/** One adjusted network: unknowns with covariance, and how each reading sits in it. */
final readonly class NetworkFit
{
    /** Redundancy of a reading from which a slip of it shows (Baarda's local redundancy; a cumulative run has none). */
    private const CHECKED = 0.02;

    /** Redundancy under which a residual is rounding and no evidence: a long reading checks a short one by this little. */
    private const LEAST_REDUNDANCY = 1e-7;

    /** Residuals within this share of the largest are no more telling than it, whatever the margin (assumed). */
    private const ALIKE = 0.05;

    /** @var array<int, array{int, int}> the lowest and the highest tap that each island reaches, by its lowest tap */
    private array $reach;

    /**
     * @param  list<float>  $solution  tap voltages, then gains
     * @param  list<list<float>>  $inverse  their covariance
     * @param  array<int, int>  $column  tap to unknown
     * @param  array<int, int>  $roots  tap to the lowest tap of its island
     * @param  array<int, array<int, float>>  $rows  design row of each reading, sparse
     * @param  list<NetworkReading>  $readings
     * @param  int  $rank  taps fixed by the readings
     */
    public function __construct(
        private array $solution,
        private array $inverse,
        private array $column,
        private array $roots,
        private array $rows,
        private array $readings,
        public int $rank,
    ) {
        $reach = [];
        foreach ($roots as $tap => $root) {
            if ($tap === $root || isset($column[$tap])) {
                $reach[$root] = [$reach[$root][0] ?? $tap, $tap];
            }
        }
        $this->reach = $reach;
    }

    /** Volts from one tap to another, null when no chain of readings joins them. */
    public function difference(int $from, int $to): ?float
    {
        if (!$this->joined($from, $to)) {
            return null;
        }

        return $this->at($to) - $this->at($from);
    }

    /** 1 sigma of difference(), the gain's share included through the covariance. */
    public function sigma(int $from, int $to): ?float
    {
        if (!$this->joined($from, $to)) {
            return null;
        }
        $a = $this->column[$from] ?? null;
        $b = $this->column[$to] ?? null;
        $variance =
            ($a === null ? 0.0 : $this->inverse[$a][$a]) +
            ($b === null ? 0.0 : $this->inverse[$b][$b]) -
            ($a === null || $b === null ? 0.0 : 2 * $this->inverse[$a][$b]);

        return sqrt(max(0.0, $variance));
    }

    /**
     * 1 sigma of a group against the mean of all that the same chain of readings reaches: what counts when groups are
     * compared. A gain that all share falls out; one that changes with the range does not.
     */
    public function ownSigma(int $from, int $to): ?float
    {
        if (!$this->joined($from, $to)) {
            return null;
        }
        [$low, $high] = $this->reach[$this->roots[$from]];
        $low = min($from, $low);
        $high = max($to, $high);
        if ($high - $low < 2 * abs($to - $from)) {
            return $this->gainFreeSigma($from, $to);
        }
        $weights = [];
        foreach (
            [[$to, 1.0], [$from, -1.0], [$high, -($to - $from) / ($high - $low)], [$low, ($to - $from) / ($high - $low)]]
            as [$tap, $w]
        ) {
            if (isset($this->column[$tap])) {
                $weights[$this->column[$tap]] = ($weights[$this->column[$tap]] ?? 0.0) + $w;
            }
        }
        $variance = 0.0;
        foreach ($weights as $p => $x) {
            foreach ($weights as $q => $y) {
                $variance += $x * $y * $this->inverse[$p][$q];
            }
        }

        return sqrt(max(1e-10, $variance));
    }

    /** 1 sigma of difference() once the shared gains are taken as known: where there is nothing to compare with. */
    private function gainFreeSigma(int $from, int $to): ?float
    {
        $sigma = $this->sigma($from, $to);
        $n = count($this->solution);
        $gains = $n - count($this->column);
        if ($sigma === null || $gains === 0) {
            return $sigma;
        }
        $first = $n - $gains;
        $a = $this->column[$from] ?? null;
        $b = $this->column[$to] ?? null;
        $cov = $block = [];
        for ($g = 0; $g < $gains; $g++) {
            $cov[$g] = ($b === null ? 0.0 : $this->inverse[$b][$first + $g]) - ($a === null ? 0.0 : $this->inverse[$a][$first + $g]);
            $block[$g] = array_slice($this->inverse[$first + $g], $first);
        }
        $weights = PositiveMatrix::inverse($block);
        $explained = 0.0;
        for ($g = 0; $g < $gains; $g++) {
            for ($h = 0; $h < $gains; $h++) {
                $explained += $cov[$g] * $weights[$g][$h] * $cov[$h];
            }
        }

        return sqrt(max(1e-10, $sigma * $sigma - $explained));
    }

    /**
     * Readings that data snooping points at: the largest standardised residual above $critical and all within
     * $margin of it.
     *
     * @return list<int> indices, largest first; empty when closure holds
     */
    public function suspects(float $critical, float $margin, float $alike = self::ALIKE): array
    {
        $w = [];
        foreach ($this->readings as $i => $r) {
            $red = $this->redundancy($i);
            if ($red > self::LEAST_REDUNDANCY) {
                $w[$i] = abs($this->residual($i)) / ($r->sigmaV * sqrt($red));
            }
        }
        if ($w === [] || max($w) <= $critical) {
            return [];
        }
        arsort($w);
        $top = max($w);

        return array_keys(array_filter($w, fn(float $x): bool => $x > $top - max($margin, $alike * $top)));
    }

    /** 1 sigma of what the other readings make of reading $i. */
    public function predictedSigma(int $i): float
    {
        $red = max(self::LEAST_REDUNDANCY, $this->redundancy($i));

        return $this->readings[$i]->sigmaV * sqrt(max(0.0, 1.0 - $red) / $red);
    }

    /** The fit as it would be without reading $i (a rank-one change of the normal equations). */
    public function without(int $i): self
    {
        $r = $this->readings[$i];
        $factor = $this->residual($i) / ($r->sigmaV * $r->sigmaV * max(1e-9, $this->redundancy($i)));
        $solution = $this->solution;
        foreach ($solution as $p => $x) {
            $sum = 0.0;
            foreach ($this->rows[$i] as $q => $y) {
                $sum += $this->inverse[$p][$q] * $y;
            }
            $solution[$p] = $x - $sum * $factor;
        }

        return new self($solution, $this->inverse, $this->column, $this->roots, $this->rows, $this->readings, $this->rank);
    }

    /**
     * Groups whose own readings are all checked by others: a slip there would not close.
     *
     * @return list<int>
     */
    public function checked(): array
    {
        $out = [];
        foreach ($this->readings as $i => $r) {
            if (abs($r->to - $r->from) === 1) {
                $k = max($r->from, $r->to);
                $out[$k] = ($out[$k] ?? true) && $this->redundancy($i) >= self::CHECKED;
            }
        }

        return array_keys(array_filter($out));
    }

    private function joined(int $from, int $to): bool
    {
        return $this->roots[$from] === $this->roots[$to] && ($from === $to || $this->solution !== []);
    }

    private function at(int $tap): float
    {
        return isset($this->column[$tap]) ? $this->solution[$this->column[$tap]] : 0.0;
    }

    private function residual(int $i): float
    {
        $sum = $this->readings[$i]->volts;
        foreach ($this->rows[$i] as $p => $x) {
            $sum -= $x * $this->solution[$p];
        }

        return $sum;
    }

    private function redundancy(int $i): float
    {
        $h = 0.0;
        foreach ($this->rows[$i] as $p => $x) {
            foreach ($this->rows[$i] as $q => $y) {
                $h += $x * $y * $this->inverse[$p][$q];
            }
        }

        return 1.0 - $h / $this->readings[$i]->sigmaV ** 2;
    }
}
