<?php

declare(strict_types=1);

namespace Heartwood\Core\Maths;

/** Inverse of a symmetric positive definite matrix by Cholesky's method. */
final class PositiveMatrix
{
    /**
     * @param  array<int, array<int, float>>  $a  n by n, keys 0..n-1, symmetric, positive definite
     * @return list<list<float>>
     *
     * @throws \DomainException the matrix is not positive definite
     */
    public static function inverse(array $a): array
    {
        $n = count($a);
        for ($j = 0; $j < $n; $j++) {
            $sum = $a[$j][$j];
            for ($k = 0; $k < $j; $k++) {
                $sum -= $a[$j][$k] * $a[$j][$k];
            }
            if ($sum <= 0.0) {
                throw new \DomainException('matrix is not positive definite');
            }
            $d = sqrt($sum);
            $a[$j][$j] = $d;
            $rowJ = $a[$j];
            for ($i = $j + 1; $i < $n; $i++) {
                $row = $a[$i];
                $s = $row[$j];
                for ($k = 0; $k < $j; $k++) {
                    $s -= $row[$k] * $rowJ[$k];
                }
                $a[$i][$j] = $s / $d;
            }
        }
        // Rows of L^-1, then L^-T L^-1.
        $inv = [];
        for ($i = 0; $i < $n; $i++) {
            $row = array_fill(0, $n, 0.0);
            $row[$i] = 1.0;
            for ($k = 0; $k < $i; $k++) {
                $f = $a[$i][$k];
                if ($f !== 0.0) {
                    for ($c = 0; $c <= $k; $c++) {
                        $row[$c] -= $f * $inv[$k][$c];
                    }
                }
            }
            for ($c = 0; $c <= $i; $c++) {
                $row[$c] /= $a[$i][$i];
            }
            $inv[$i] = $row;
        }
        $columns = [];
        for ($i = 0; $i < $n; $i++) {
            $columns[$i] = array_column($inv, $i);
        }
        $out = array_fill(0, $n, array_fill(0, $n, 0.0));
        for ($i = 0; $i < $n; $i++) {
            $ci = $columns[$i];
            for ($j = 0; $j <= $i; $j++) {
                $cj = $columns[$j];
                $s = 0.0;
                for ($k = $i; $k < $n; $k++) {
                    $s += $ci[$k] * $cj[$k];
                }
                $out[$i][$j] = $out[$j][$i] = $s;
            }
        }
        /** @var list<list<float>> $out */

        return $out;
    }
}
