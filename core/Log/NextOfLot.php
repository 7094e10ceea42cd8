<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

use Heartwood\Core\Limits\LogLimits;
use Heartwood\Core\Maths\Robust;

/** Which cells of a lot to test next, and how many of them, until its mean is known well enough to plan with. */
final readonly class NextOfLot
{
    /** Fewer readings than this say nothing of what stands off. */
    private const KNOWN = 5;

    private const FLOOR = ['mohm' => 0.5, 'rest_v' => 0.003];

    /**
     * Those whose resistance or rest voltage stands off first, for they may be the bad ones; then evenly through the lot in the
     * order of its codes, so that every row of a block is in the sample.
     *
     * @param  list<array{code: string, mohm: float|null, rest_v: float|null}>  $untested
     * @param  list<float>  $measured  Ah, of those that were
     * @return array{more: int, codes: list<string>, text: string} more: tests until the interval is within the limit
     */
    public static function of(array $untested, array $measured): array
    {
        usort($untested, fn(array $a, array $b): int => strnatcmp($a['code'], $b['code']));
        $more = min(count($untested), self::more($measured, count($untested) + count($measured)));
        if ($more === 0) {
            return ['more' => 0, 'codes' => [], 'text' => ''];
        }
        $odd = self::odd($untested);
        $codes = array_slice($odd, 0, LogLimits::NEXT_OF_LOT);
        $rest = array_values(array_filter(array_column($untested, 'code'), fn(string $c): bool => !in_array($c, $codes, true)));
        $want = min(LogLimits::NEXT_OF_LOT - count($codes), count($rest));
        for ($i = 0; $i < $want; $i++) {
            $codes[] = $rest[intdiv((2 * $i + 1) * count($rest), 2 * $want)];
        }

        return [
            'more' => $more,
            'codes' => $codes,
            'text' =>
                ($odd === [] ? '' : 'What stands off by its resistance or rest voltage first. ') .
                sprintf('%d more until its mean is known to %.0f %%.', $more, 100 * LogLimits::LOT_KNOWN),
        ];
    }

    /**
     * @param  list<float>  $measured
     * @return int how many more, of a lot of that many cells
     */
    private static function more(array $measured, int $population): int
    {
        $n = count($measured);
        $mean = $n === 0 ? 1.0 : array_sum($measured) / $n;
        if ($mean <= 0.0) {
            return $population;
        }
        for ($m = max(2, $n); $m < $population; $m++) {
            if (SampleOfLot::half($measured, $m, $population) <= LogLimits::LOT_KNOWN * $mean) {
                return $m - $n;
            }
        }

        return $population - $n;
    }

    /**
     * @param  list<array{code: string, mohm: float|null, rest_v: float|null}>  $cells
     * @return list<string> codes, the oddest first
     */
    private static function odd(array $cells): array
    {
        $off = [];
        foreach (self::FLOOR as $key => $floor) {
            $known = array_filter(array_column($cells, $key, 'code'), fn(?float $v): bool => $v !== null);
            if (count($known) < self::KNOWN) {
                continue;
            }
            $centre = Robust::median(array_values($known));
            $spread = Robust::spread(array_values($known), $floor);
            foreach ($known as $code => $v) {
                $off[(string) $code] = max($off[(string) $code] ?? 0.0, abs($v - $centre) / $spread);
            }
        }
        $off = array_filter($off, fn(float $z): bool => $z > LogLimits::STANDS_OFF);
        arsort($off);

        return array_map(strval(...), array_keys($off));
    }
}
