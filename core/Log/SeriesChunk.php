<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

/**
 * One kind of stored series for logs and live runs: columns of 32-bit floats (time of 64), compressed, in chunks; with a
 * pyramid of minimum and maximum by which any zoom is drawn without opening what is not seen.
 */
final class SeriesChunk
{
    /** Rows under one entry of the pyramid's lowest level. */
    public const BUCKET = 64;

    /**
     * @param  non-empty-list<float>  $t
     * @param  list<float>  $v
     * @param  list<float>  $a
     */
    public static function pack(array $t, array $v, array $a): string
    {
        return (string) gzcompress(pack('e*', ...$t) . pack('g*', ...$v) . pack('g*', ...$a), 1);
    }

    /** @return array{t: list<float>, v: list<float>, a: list<float>} */
    public static function unpack(string $blob, int $rows): array
    {
        $raw = @gzuncompress($blob);
        if ($raw === false || strlen($raw) !== 16 * $rows) {
            throw new LogProblem('A stored part of this series is damaged.');
        }
        $list = fn(string $format, int $from, int $size): array => array_values(
            (array) unpack("$format$rows", substr($raw, $from, $size * $rows)),
        );
        /** @var array{t: list<float>, v: list<float>, a: list<float>} $out */
        $out = ['t' => $list('e', 0, 8), 'v' => $list('g', 8 * $rows, 4), 'a' => $list('g', 12 * $rows, 4)];

        return $out;
    }

    /**
     * Lowest and highest of every bucket, as one packed string: time, volts low and high, amps low and high.
     *
     * @param  non-empty-list<float>  $t
     * @param  non-empty-list<float>  $v
     * @param  non-empty-list<float>  $a
     */
    public static function pyramid(array $t, array $v, array $a): string
    {
        $out = '';
        for ($k = 0, $n = count($t); $k < $n; $k += self::BUCKET) {
            $vs = array_slice($v, $k, self::BUCKET);
            $as = array_slice($a, $k, self::BUCKET);
            if ($vs !== [] && $as !== []) {
                $out .= pack('eg4', $t[$k], min($vs), max($vs), min($as), max($as));
            }
        }

        return $out;
    }

    /** @return list<array{t: float, v_min: float, v_max: float, a_min: float, a_max: float}> */
    public static function levels(string $pyramid): array
    {
        $out = [];
        for ($k = 0, $n = intdiv(strlen($pyramid), 24); $k < $n; $k++) {
            /** @var array<string, float> $x */
            $x = unpack('et/g4x', substr($pyramid, 24 * $k, 24));
            $out[] = ['t' => $x['t'], 'v_min' => $x['x1'], 'v_max' => $x['x2'], 'a_min' => $x['x3'], 'a_max' => $x['x4']];
        }

        return $out;
    }
}
