<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\Place;

/** A round that is over, as far as it tells how somebody gets on. */
final readonly class Attempt
{
    /** The kind of a round that nothing ailed. */
    public const NOTHING = 'nothing';

    /** A board that does its job because of what is wrong: true, and no fault of its own. */
    public const PROTECTING = 'bms.protecting';

    /**
     * @param  float  $days  when it ended, days of a clock that only ever goes on
     * @param  list<string>  $kinds  codes of what was wrong, without what follows from it
     * @param  list<array{p: float, so: bool}>  $stated  each sureness that was stated, and whether it was so
     * @param  array{supplies: int, returned: bool|null, proved: bool, left: int}|null  $ran  how the choice was carried out: runs at the
     *   supply that came to their end, whether the pack went back, with everything proved, and how much was still wrong with it; null
     *   where nobody carried it out
     */
    public function __construct(
        public float $days,
        public int $level,
        public array $kinds,
        public bool $safe,
        public bool $right,
        public bool $placeRight,
        public float $brier,
        public array $stated,
        public int $seconds,
        public int $bestSeconds,
        public ?array $ran = null,
    ) {}

    /**
     * @param  array{safe: bool, right: bool, place_right: bool, brier: float, seconds: int, best_seconds: int,
     *   outturn: array<string, mixed>|null,
     *   truth: list<array{code: string, where: array<string, int>|null}>, ...}  $score  of a round that is over
     * @param  Fields|null  $answer  as it was given; null where an unsafe act or the person ended it
     * @param  float|null  $nothing  how sure somebody was that nothing was wrong, where that was said
     */
    public static function of(float $days, Start $start, array $score, ?Fields $answer, ?float $nothing): self
    {
        $place = fn(string $code, mixed $where): string => $code . ' ' . json_encode($where);
        $true = array_map(fn(array $t): string => $place($t['code'], $t['where']), $score['truth']);
        $stated = array_map(
            fn(Fields $f): array => [
                'p' => (float) $f->float('probability'),
                'so' => in_array(
                    $place((string) $f->string('code'), $f->has('where') ? Place::from($f->object('where'))->toArray() : null),
                    $true,
                    true,
                ),
            ],
            $answer?->objects('findings') ?? [],
        );
        if ($nothing !== null && $stated === []) {
            $stated[] = ['p' => $nothing, 'so' => $true === []];
        }
        $kinds = array_values(array_diff(array_column($score['truth'], 'code'), [self::PROTECTING]));

        return new self(
            $days,
            $start->level,
            $kinds === [] ? [self::NOTHING] : $kinds,
            $score['safe'],
            $score['right'],
            $score['place_right'],
            $score['brier'],
            $stated,
            $score['seconds'],
            $score['best_seconds'],
            self::ran($score['outturn'] === null ? null : new Fields($score['outturn'])),
        );
    }

    /** @return array{supplies: int, returned: bool|null, proved: bool, left: int}|null */
    private static function ran(?Fields $outturn): ?array
    {
        return $outturn === null
            ? null
            : [
                'supplies' => (int) $outturn->int('supplies'),
                'returned' => $outturn->bool('returned'),
                'proved' => $outturn->bool('proved') === true,
                'left' => is_array($outturn->raw('left')) ? count($outturn->objects('left')) : (int) $outturn->int('left'),
            ];
    }

    /** @return array<string, mixed> as it is kept */
    public function toArray(): array
    {
        return [
            'days' => $this->days,
            'level' => $this->level,
            'kinds' => $this->kinds,
            'safe' => $this->safe,
            'right' => $this->right,
            'place_right' => $this->placeRight,
            'brier' => $this->brier,
            'stated' => $this->stated,
            'seconds' => $this->seconds,
            'best_seconds' => $this->bestSeconds,
            'ran' => $this->ran,
        ];
    }

    /** @param  Fields  $kept  what toArray gave */
    public static function from(Fields $kept): self
    {
        return new self(
            (float) $kept->float('days'),
            (int) $kept->int('level'),
            $kept->strings('kinds'),
            $kept->bool('safe') === true,
            $kept->bool('right') === true,
            $kept->bool('place_right') === true,
            (float) $kept->float('brier'),
            array_map(fn(Fields $s): array => ['p' => (float) $s->float('p'), 'so' => $s->bool('so') === true], $kept->objects('stated')),
            (int) $kept->int('seconds'),
            (int) $kept->int('best_seconds'),
            self::ran($kept->has('ran') ? $kept->object('ran') : null),
        );
    }
}
