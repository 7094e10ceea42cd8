<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

/**
 * When a live value may be taken without a hand: it has left the last tap, it holds still for a while, and it is
 * plausible beside what was read before. What is steady but implausible is questioned and taken by hand only.
 */
final readonly class SteadyRule
{
    /** How long a value must hold still. */
    public const HOLD_S = 0.7;

    public const LEAST_SAMPLES = 4;

    /** Floating leads wander; a probe on metal stays within these counts. */
    private const COUNTS = 4;

    /** Under this a lead hangs in the air or both probes sit on one tap. */
    private const NOTHING_V = 0.05;

    /**
     * @param  'waiting'|'moving'|'steady'|'question'  $state
     * @param  string|null  $kind  of the question: same-value, sign, two-steps, impossible
     */
    private function __construct(public string $state, public ?float $v, public string $text, public ?string $kind = null) {}

    /**
     * @param  list<array{t: float, v: float|null}>  $window  the last seconds, oldest first; null where the meter had nothing
     * @param  float|null  $leftV  the value taken last; the window must have left it since
     * @param  bool  $hasLeft  whether the reading was seen away from it since it was taken
     * @param  float  $resolutionV  one count
     * @param  float|null  $before  value at the tap before this one, same reference; null for a reading across a group
     * @param  float|null  $typical  a group's volts as far as known
     * @param  float  $fullV  most that a cell can hold
     */
    public static function judge(
        array $window,
        ?float $leftV,
        bool $hasLeft,
        float $resolutionV,
        ?float $before,
        ?float $typical,
        float $fullV,
        int $groups = 1,
    ): self {
        $last = $window === [] ? null : $window[count($window) - 1];
        if ($last === null || $last['v'] === null) {
            return new self('waiting', null, 'no contact');
        }
        // The longest stretch up to now in which the value stayed put.
        $low = $high = $last['v'];
        $sum = 0.0;
        $count = 0;
        $since = $last['t'];
        foreach (array_reverse($window) as $s) {
            if ($s['v'] === null || max($high, $s['v']) - min($low, $s['v']) > self::COUNTS * $resolutionV + 0.0002 * abs($last['v'])) {
                break;
            }
            [$low, $high, $since] = [min($low, $s['v']), max($high, $s['v']), $s['t']];
            $sum += $s['v'];
            $count++;
        }
        if ($count < self::LEAST_SAMPLES || $last['t'] - $since < self::HOLD_S) {
            return new self('moving', $last['v'], $count < self::LEAST_SAMPLES ? 'not steady yet' : 'hold it still');
        }
        $v = $sum / $count;
        $v = round($v / $resolutionV) * $resolutionV;
        if ($leftV !== null && !$hasLeft) {
            return new self('waiting', $v, 'move to the next tap');
        }
        $step = $before === null ? $v : $v - $before;
        $expect = $typical === null ? null : $typical * $groups;
        if ($before !== null && abs($step) < self::NOTHING_V && ($typical === null || $typical > 0.3)) {
            return new self('question', $v, 'Same as before: a dead group, or the probe did not move?', 'same-value');
        }
        if ($before === null && abs($v) < self::NOTHING_V && $typical !== null && $typical > 0.3) {
            return new self('question', $v, 'Nothing: a dead group, or no contact?', 'same-value');
        }
        if ($step < -self::NOTHING_V) {
            return new self(
                'question',
                $v,
                $before === null || $v < 0 ? 'The sign is wrong: probes swapped?' : 'Lower than the tap before: which tap is this?',
                'sign',
            );
        }
        if ($expect !== null && $step > 1.6 * $expect && $step > 1.1 * $fullV * $groups) {
            return new self('question', $v, 'Two groups at one step: a tap left out?', 'two-steps');
        }
        if ($step > 1.25 * $fullV * $groups) {
            return new self('question', $v, 'More than a cell can hold: which tap is this?', 'impossible');
        }

        return new self('steady', $v, 'taken');
    }

    /** Whether a value lies away from the one taken last: the probe was lifted. */
    public static function left(?float $v, float $taken, float $resolutionV): bool
    {
        return $v === null || abs($v - $taken) > max(0.03, 20 * $resolutionV);
    }
}
