<?php

declare(strict_types=1);

namespace Tests\Core;

/** Damages a record as careless hands and broken programs do. Uses mt_rand: seed it. */
final class Mutation
{
    /**
     * @param  array<array-key, mixed>  $data
     * @return array<array-key, mixed>
     */
    public static function of(array $data): array
    {
        $keys = array_keys($data);
        if ($keys === []) {
            return ['stray' => 1];
        }
        $key = $keys[mt_rand(0, count($keys) - 1)];
        if (is_array($data[$key]) && $data[$key] !== [] && mt_rand(0, 9) > 0) {
            $data[$key] = self::of($data[$key]);

            return $data;
        }
        switch (mt_rand(0, 7)) {
            case 0:
                unset($data[$key]);
                $data = array_is_list($keys) && $keys === range(0, count($keys) - 1) ? array_values($data) : $data;
                break;
            case 1:
                $data[$key] = null;
                break;
            case 2:
                $data[$key] = is_numeric($data[$key]) ? $data[$key] * [-1, 0, 10, 1000, 1e-6][mt_rand(0, 4)] : 'zzz';
                break;
            case 3:
                $data[$key] = [1e308, -1e308, 0, 3.7, 'T1', 'T0', 'P+', true, [], '2026-05-05T08:00:00Z'][mt_rand(0, 9)];
                break;
            case 4:
                $other = $keys[mt_rand(0, count($keys) - 1)];
                [$data[$key], $data[$other]] = [$data[$other], $data[$key]];
                break;
            case 5:
                $data[is_int($key) ? count($data) : 'x' . $key] = $data[$key];
                break;
            case 6:
                $data[$key] = is_numeric($data[$key]) ? $data[$key] + mt_rand(-40, 40) / 10 : $data[$key];
                break;
            default:
                $data[$key] = is_string($data[$key]) ? strrev($data[$key]) : (string) json_encode($data[$key]);
        }

        return $data;
    }
}
