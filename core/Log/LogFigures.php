<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

/** What a log comes to. */
final readonly class LogFigures
{
    /**
     * @param  list<array<string, mixed>>  $steps  kind, from_s, to_s, ah, wh, v_start, v_end, a_mean, cutoff_ah
     * @param  list<array{at_s: float, seconds: float}>  $gaps
     * @param  list<array{at_s: float, from_a: float, to_a: float, mohm_1s: float|null, mohm_10s: float|null}>  $resistances
     * @param  array<string, mixed>|null  $capacity  ah, wh, counts, missing, soh, sigma; null without a discharge
     * @param  list<array{row: int, text: string}>  $errors  the first of them
     * @param  float|null  $beganS  seconds since 1970 of its first row, where its own time says it
     */
    public function __construct(
        public int $rows,
        public int $skipped,
        public float $seconds,
        public float $medianS,
        public array $steps,
        public array $gaps,
        public array $resistances,
        public ?array $capacity,
        public ?float $temperatureC,
        public array $errors,
        public ?float $beganS = null,
    ) {}

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'rows' => $this->rows,
            'skipped' => $this->skipped,
            'seconds' => round($this->seconds, 3),
            'median_interval_s' => round($this->medianS, 4),
            'steps' => $this->steps,
            'gaps' => $this->gaps,
            'resistances' => $this->resistances,
            'capacity' => $this->capacity,
            'temperature_c' => $this->temperatureC === null ? null : round($this->temperatureC, 2),
            'errors' => $this->errors,
            'began_at' => $this->beganS === null ? null : gmdate('Y-m-d\TH:i:s\Z', (int) $this->beganS),
        ];
    }
}
