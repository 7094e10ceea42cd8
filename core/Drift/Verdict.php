<?php

declare(strict_types=1);

namespace Heartwood\Core\Drift;

use Heartwood\Core\Limits\DriftLimits;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Maths\Step;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\Instrument;
use Heartwood\Core\Record\PackSpec;

/**
 * Does the repair hold? The spread of a pack in service against time, and each group against the middle of the others (handbook "After
 * the return: does the repair hold?"). The state is the spread's; on the flat part of a curve no voltage says that it holds.
 */
final readonly class Verdict
{
    /** Millivolts a volt. */
    public const MV = 1000.0;

    private const DAY_S = 86_400;

    private const YEAR_D = 365.25;

    /** So many readings are searched day by day for the one that would decide; more, by halving. */
    private const BY_DAY = 60;

    /**
     * @param  list<array{group: int, trend: Trend}>  $groups
     * @param  string  $nextAt  RFC 3339
     * @param  list<string>  $notes  what is said beside the state
     */
    private function __construct(
        public State $state,
        public ?Trend $spread,
        public array $groups,
        public Comparable $comparable,
        public string $nextAt,
        public bool $flat,
        public bool $over,
        public array $notes,
        private float $workEndedS,
    ) {}

    /**
     * @param  string  $workEndedAt  RFC 3339
     * @param  list<Point>  $points  in any order
     */
    public static function of(PackSpec $pack, string $workEndedAt, array $points): self
    {
        $ended = (float) (new \DateTimeImmutable($workEndedAt))->format('U.u');
        $comparable = Comparable::of($pack, $ended, $points);
        $used = $comparable->points;
        $days = array_map(fn(Point $p): float => Comparable::days($p, $ended), $used);
        $steps = array_map(fn(Point $p): float => $p->resolutionV, $used);
        $resolution = $steps === [] ? Point::RESOLUTION_V : max($steps);
        $meter = Instrument::from(new Fields([]));
        // The spread is the difference of two readings, a deviation that of one and a middle.
        $two = self::MV * Robust::quadrature($meter->countSigma($resolution), $meter->countSigma($resolution));
        $stepped = self::MV * Step::ofTwo($resolution);
        $spreads = array_map(fn(Point $p): float => self::MV * (float) $p->spreadV(), $used);
        $spread = Trend::of($days, $spreads, $two, $stepped);
        $groups = self::groups($used, $days, $two, $stepped);
        $flat = self::flat($pack, $used);
        $state = $spread?->state() ?? State::CannotTell;
        if ($flat && $state === State::Holds) {
            $state = State::CannotTell;
        }
        $over = $spreads !== [] && end($spreads) > Trend::limit() + Tiny::SUM;
        $lastAt = array_map(fn(Point $p): float => $p->time(), $points);
        $next = self::next($spread, $state, $flat, $two, $stepped, ($lastAt === [] ? $ended : max($ended, ...$lastAt)) - $ended);

        return new self(
            $state,
            $spread,
            $groups,
            $comparable,
            self::date($ended, $next),
            $flat,
            $over,
            self::notes($state, $flat, $over, $spreads),
            $ended,
        );
    }

    /** The last spread that can be compared, mV; null where there is none. */
    public function lastMv(): ?float
    {
        $used = $this->comparable->points;

        return $used === [] ? null : self::MV * (float) $used[count($used) - 1]->spreadV();
    }

    /** @return array{early: string|null, likely: string|null, late: string|null}|null dates on which the spread passes its limit */
    public function reaches(): ?array
    {
        $passes = $this->state === State::Holds ? null : $this->spread?->passes();
        if ($passes === null) {
            return null;
        }
        $far = DriftLimits::FAR_A * self::YEAR_D + $this->spread->last();
        $dates = array_map(fn(?float $d): ?string => $d === null || $d > $far ? null : self::date($this->workEndedS, $d), $passes);

        return array_filter($dates) === [] ? null : $dates;
    }

    /** @return array<string, mixed> as `drift` gives it */
    public function toArray(): array
    {
        $slope = fn(Trend $t): array => [
            'low' => round($t->slope->low, 4),
            'mid' => round($t->slope->mid, 4),
            'high' => round($t->slope->high, 4),
        ];

        return [
            'format' => 'heartwood.drift-result',
            'version' => 1,
            'state' => $this->state->value,
            'spread' =>
                $this->spread === null
                    ? null
                    : [
                        'slope_mv_per_day' => $slope($this->spread),
                        'limit_mv' => (int) Trend::limit(),
                        'reaches_limit' => $this->reaches(),
                    ],
            'groups' => array_map(
                fn(array $g): array => [
                    'group' => $g['group'],
                    'slope_mv_per_day' => $slope($g['trend']),
                    'state' => $g['trend']->stateOfEither()->value,
                ],
                $this->groups,
            ),
            'next_reading_at' => $this->nextAt,
            'used' => count($this->comparable->points),
            'left_out' => $this->comparable->leftOut,
        ];
    }

    /**
     * @param  list<Point>  $used
     * @param  list<float>  $days
     * @return list<array{group: int, trend: Trend}> of the readings that gave every group
     */
    private static function groups(array $used, array $days, float $sigmaMv, float $steppedMv): array
    {
        $at = $by = [];
        foreach ($used as $i => $p) {
            $read = $p->groups();
            if ($read === null || ($by !== [] && count($read) !== count($by))) {
                continue;
            }
            $at[] = $days[$i];
            foreach ($read as $k => $v) {
                $others = $read;
                unset($others[$k]);
                $by[$k][] = self::MV * ($v - ($others === [] ? $v : Robust::median(array_values($others))));
            }
        }
        $out = [];
        foreach ($by as $k => $mv) {
            $trend = Trend::of($at, $mv, $sigmaMv, $steppedMv);
            if ($trend !== null) {
                $out[] = ['group' => $k + 1, 'trend' => $trend];
            }
        }

        return $out;
    }

    /**
     * Whether most of the readings lie where the curve says next to nothing of charge.
     *
     * @param  list<Point>  $used
     */
    private static function flat(PackSpec $pack, array $used): bool
    {
        $curve = RestCurve::of($pack->chemistry);
        $flat = array_filter(
            $used,
            fn(Point $p): bool => $p->condition !== 'full' &&
                $pack->chemistry->isPhosphate() &&
                $curve->onPlateau($p->condition === 'rest' ? (float) $p->middleV() : $curve->volts($p->soc ?? 1.0)),
        );

        return 2 * count($flat) > count($used);
    }

    /**
     * Days after the work at which it is read next: the earliest at which the interval would decide with one more reading on the line,
     * within the longest step of the plan; else the plan's next.
     */
    private static function next(?Trend $spread, State $state, bool $flat, float $sigmaMv, float $steppedMv, float $lastS): float
    {
        $last = $lastS / self::DAY_S;
        $longest = DriftLimits::PLAN_D[count(DriftLimits::PLAN_D) - 1];
        if ($spread !== null && $state === State::CannotTell && !$flat) {
            $decides = fn(int $day): bool => $spread->with($last + $day, $sigmaMv, $steppedMv)->state() !== State::CannotTell;
            if ($decides($longest)) {
                $from = 0;
                $to = $longest;
                while ($to - $from > 1) {
                    $day = $spread->readings() > self::BY_DAY ? intdiv($from + $to, 2) : $from + 1;
                    if ($decides($day)) {
                        $to = $day;
                    } else {
                        $from = $day;
                    }
                }

                return $last + $to;
            }
        }
        foreach (DriftLimits::PLAN_D as $day) {
            if ($day > $last) {
                return (float) $day;
            }
        }

        return $last + $longest;
    }

    /**
     * @param  list<float>  $spreads  mV
     * @return list<string>
     */
    private static function notes(State $state, bool $flat, bool $over, array $spreads): array
    {
        return array_values(
            array_filter([
                $over ? sprintf('The last reading is over the limit: %.0f mV apart, %.0f allowed.', end($spreads), Trend::limit()) : null,
                $flat
                    ? 'Read on the flat part of the curve: millivolts say little of charge there. Read it at the top of a full charge.'
                    : null,
                count($spreads) === 1 ? 'One comparable reading: a second one begins to tell.' : null,
                $spreads === [] ? 'No comparable reading yet.' : null,
            ]),
        );
    }

    private static function date(float $fromS, float $days): string
    {
        return gmdate('Y-m-d\TH:i:s\Z', (int) round($fromS + $days * self::DAY_S));
    }
}
