<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Limits\TrainerLimits;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Twin\LiveGroup;

/** Draws the round of a level and a seed: a pack, what ails it, a meter. The same always, and another for another seed. */
final class Rounds
{
    /** What a group strays by from its fellows: charge, capacity, resistance (shares); volts off the curve. */
    private const SPREAD = 0.0025;

    private const CAPACITY = 0.01;

    private const OHMS = 0.03;

    private const OFFSET_V = 0.0008;

    private const DAY_H = 24;

    /** Groups of a pack, and how many there are at the least where one is told by its neighbours. */
    private const SERIES = [4, 14];

    private const SERIES_TO_COMPARE = 6;

    private const PARALLEL = 6;

    /** Cells: amp-hours, milliohm, amps out and in. */
    private const CELL_AH = [2.0, 2.5, 2.9, 3.2];

    private const CELL_MOHM = [24, 50];

    /** Charge that it comes with. */
    private const CHARGE = [0.5, 0.82];

    /** A good joint and its link, ohms. */
    private const LINK_OHM = [0.00008, 0.0002];

    /** So often an ailment sits anywhere but in the last group. */
    private const INSIDE = 0.9;

    private const NUMBERED = 40;

    private const NAMES = [
        'Ferry cart',
        'Net winch',
        'Slip barrow',
        'Hull lamp',
        'Lock-side cart',
        'Dock saw',
        'Tide pump',
        'Pier trolley',
    ];

    /** What people say who report a symptom: it tells no more than the symptom does. */
    private const SAYS = [
        'low-range' => [
            'It does not go as far as it did.',
            'After a week on the shelf it is much shorter.',
            'It never held what it says on it.',
        ],
        'dies-early' => ['It dies long before the end.', 'It gives up after a while, and the lamp says half.', 'Halfway home it was over.'],
        'dead-output' => ['It was fine, and then nothing came out any more.', 'It does nothing at all.', 'From one day to the next: dead.'],
        'stored-long' => ['It lay in the shed over winter.', 'It was not charged for months.', 'We had no use for it since last year.'],
        'cuts-out-under-load' => [
            'It cuts out on the hill.',
            'As soon as it has to pull it goes off.',
            'Under load it gives up; then it comes back.',
        ],
        'cuts-out-until-reconnected' => [
            'It only comes back when it has been on the charger.',
            'Off, until it is plugged out and in again.',
        ],
        'will-not-charge' => [
            'It takes no charge any more.',
            'The charger stays green and nothing goes in.',
            'We bought another charger; it is no better.',
        ],
        'charger-blinks-fault' => ['The charger clicks and blinks.', 'The charger shows red and green by turns.'],
        'charger-full-at-once' => ['The charger says full at once.', 'It is full after five minutes, they say.'],
        'cuts-out-when-bumped' => ['Over a kerb it goes off, and on again.', 'When it is set down hard it is off.'],
        'gauge-wrong' => ['The display says something else than it does.', 'It shows 60 %, and stops.'],
        'modified' => ['A friend put another board in; it has not been on since.', 'Somebody has had it open before us.'],
    ];

    public static function of(int $level, int $seed): Round
    {
        if ($level < 1 || $level > TrainerLimits::LEVELS) {
            throw new \OutOfRangeException('levels are 1 to ' . TrainerLimits::LEVELS);
        }
        $words = "$level/$seed";
        $luck = new Luck($words, 'round');
        $ailments = self::ailments($level, $luck);
        $patient = self::sound(self::pack($ailments, $luck), $luck);
        self::befall($patient, $ailments, $luck);

        return self::round($patient, $level, $words, $luck);
    }

    /**
     * What a level and a seed draw, without the pack: by this a round of a kind is found.
     *
     * @return non-empty-list<Ailment>
     */
    public static function kinds(int $level, int $seed): array
    {
        return self::ailments($level, new Luck("$level/$seed", 'round'));
    }

    /** A job of the shop's own told again: its pack, what it was, and the volts at which its groups stood. */
    public static function told(Told $told, int $seed): Round
    {
        $words = "told/$seed";
        $luck = new Luck($words, 'round');
        $patient = self::sound($told->pack($luck->pick(self::NAMES) . ' ' . $luck->whole(1, self::NUMBERED)), $luck);
        foreach ($told->truth as $t) {
            $t['ailment']->befall($patient, $luck, $t['at'] ?? 1);
        }
        $told->stand($patient);
        $patient->symptoms = $told->symptoms;

        return self::round($patient, $told->level(), $words, $luck);
    }

    private static function round(Patient $patient, int $level, string $words, Luck $luck): Round
    {
        foreach ($patient->symptoms as $symptom) {
            $patient->says[] = $luck->pick(self::SAYS[$symptom] ?? ['It was brought in.']);
        }
        if ($patient->says === []) {
            $patient->says[] = 'It was in the cupboard; please see whether it is still good.';
        }
        $meter = new Meter(
            match (true) {
                $level === 1 => $luck->pick(['bench', 'hand']),
                $level === 2 => 'hand',
                default => $luck->pick(['bench', 'hand', 'coarse']),
            },
            $luck,
        );

        return new Round($patient, $meter, $level, $words);
    }

    /** @return non-empty-list<Ailment> */
    private static function ailments(int $level, Luck $luck): array
    {
        if ($luck->happens(TrainerLimits::NOTHING_WRONG)) {
            return [Ailment::Nothing];
        }
        $of = fn(\Closure $which): array => array_values(array_filter(Ailment::cases(), $which));
        if ($level === TrainerLimits::LEVELS && $luck->happens(TrainerLimits::TWO_AT_ONCE)) {
            /** @var non-empty-list<Ailment> $groups */
            $groups = $of(fn(Ailment $a): bool => $a->isOfGroup() && $a !== Ailment::Dead);
            /** @var non-empty-list<Ailment> $others */
            $others = $of(fn(Ailment $a): bool => $a->mayComeWithAnother());

            return [$luck->pick($groups), $luck->pick($others)];
        }
        /** @var non-empty-list<Ailment> $all */
        $all = $of(fn(Ailment $a): bool => $a !== Ailment::Nothing && $a->level() <= $level && ($level <= 2 || $a->level() > 1));

        return [$luck->pick($all)];
    }

    /**
     * @param  non-empty-list<Ailment>  $ailments
     * @return array<string, mixed> a pack that may have them, as the record has it
     */
    private static function pack(array $ailments, Luck $luck): array
    {
        $common = $ailments[0]->chemistries();
        foreach ($ailments as $a) {
            $common = array_values(array_filter($common, fn(Chemistry $c): bool => in_array($c, $a->chemistries(), true)));
        }
        /** @var non-empty-list<Chemistry> $common */
        $chemistry = $luck->pick($common);
        $series = $luck->whole($ailments[0] === Ailment::BleedStuck ? self::SERIES_TO_COMPARE : self::SERIES[0], self::SERIES[1]);
        $parallel = $luck->whole(max(array_map(fn(Ailment $a): int => $a->parallel(), $ailments)), self::PARALLEL);
        $cellAh = $luck->pick(self::CELL_AH);
        $cellMohm = $luck->whole(...self::CELL_MOHM);

        return [
            'name' => $luck->pick(self::NAMES) . ' ' . $luck->whole(1, self::NUMBERED),
            'kind' => 'light-ev',
            'chemistry' => $chemistry->value,
            'series' => $series,
            'parallel' => $parallel,
            'cell' => [
                'capacity_ah' => $cellAh,
                'resistance_mohm' => $cellMohm,
                'max_continuous_a' => Parts::CELL_A,
                'max_charge_a' => Parts::CELL_CHARGE_A,
            ],
        ] + Parts::around($chemistry, $series, $parallel, $cellAh);
    }

    /** @param  array<string, mixed>  $pack  as the record has it, with its cells' capacity and resistance */
    private static function sound(array $pack, Luck $luck): Patient
    {
        $spec = PackSpec::from(new Fields($pack));
        $parallel = $spec->parallel ?? 1;
        $series = $spec->series;
        $cellAh = (float) $spec->cell->float('capacity_ah');
        $cellMohm = (float) $spec->cell->float('resistance_mohm');
        $charge = $luck->between(...self::CHARGE);
        $groups = [];
        for ($k = 1; $k <= $series; $k++) {
            $ohm = ($cellMohm / $parallel / 1000) * (1 + $luck->normal(self::OHMS));
            $ah = $cellAh * $parallel * (1 - abs($luck->normal(self::CAPACITY)));
            $groups[] = new LiveGroup(
                $charge + $luck->normal(self::SPREAD),
                $ah,
                $ohm * Patient::AT_ONCE,
                $ohm * Patient::QUICK,
                $ohm * (1 - Patient::AT_ONCE - Patient::QUICK),
                leakA: ($ah * Patient::SOUND_LEAK) / self::DAY_H,
            );
        }
        $patient = new Patient($pack, $spec, $groups);
        for ($k = 1; $k <= $series; $k++) {
            $patient->offsetV[$k] = $luck->normal(self::OFFSET_V);
            $patient->jointOhm[$k - 1] = $luck->between(...self::LINK_OHM);
        }
        $patient->inspection = array_fill_keys(
            ['swollen', 'leaking', 'venting', 'smell', 'warm_at_rest', 'crushed', 'punctured', 'burnt', 'wet', 'salt_water', 'metal_case'],
            false,
        );

        return $patient;
    }

    /** @param  non-empty-list<Ailment>  $ailments */
    private static function befall(Patient $patient, array $ailments, Luck $luck): void
    {
        $series = $patient->spec->series;
        $first = $luck->whole(1, $series - 1);
        foreach ($ailments as $i => $a) {
            // Two sit apart, so that each is seen by itself.
            $at = $i === 0 ? $first : (($first + intdiv($series, 2) - 1) % ($series - 1)) + 1;
            if ($at === $first && $i > 0) {
                $at = ($first % ($series - 1)) + 1;
            }
            $a->befall($patient, $luck, $a === Ailment::Joint || $luck->happens(self::INSIDE) ? $at : ($at === $first ? $series : $at));
        }
    }
}
