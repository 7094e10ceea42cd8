<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol\Kind;

use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Limits\ProtocolLimits;
use Heartwood\Core\Log\GaugeCheck;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Protocol\Course;
use Heartwood\Core\Protocol\Entry;
use Heartwood\Core\Protocol\Field;
use Heartwood\Core\Protocol\Found;
use Heartwood\Core\Protocol\Outcome;
use Heartwood\Core\Protocol\Protocol;
use Heartwood\Core\Protocol\Ready;
use Heartwood\Core\Protocol\Step;

/** Full, rest, empty, rest, full: the gauge learns what the cells give, and is held against it before and after. */
final class GaugeRelearn extends Protocol
{
    /** A gauge that has lost itself may show more than all. */
    private const MOST_SHOWN = 120.0;

    public function code(): string
    {
        return 'gauge-relearn';
    }

    public function title(): string
    {
        return 'Teach the gauge';
    }

    public function why(): string
    {
        return 'Full, rest, empty, rest, full: the gauge learns what the cells give. It is held against them before and after.';
    }

    public function charges(): bool
    {
        return true;
    }

    public function tests(): array
    {
        return [TestKind::GaugeRelearn];
    }

    public function proves(): array
    {
        return [Check::Gauge];
    }

    public function needs(Course $c): array
    {
        return [Ready::read($c), Ready::chargeable($c)];
    }

    public function steps(Course $c): array
    {
        $gauge = [
            Field::number('full_charge_wh', 'Full, it says, Wh', 0.0, self::MOST_AH),
            Field::number('design_wh', 'When new, it says, Wh', 0.0, self::MOST_AH, true),
            Field::number('shown', 'It shows, %', 0.0, self::MOST_SHOWN, true),
        ];

        return [
            Step::ask('before', 'Read what the gauge says now.', $gauge)->in('probe?test=bms-report', 'Read the board\'s report'),
            Step::ask('full', 'Charge it fully, until the charger has tapered off.', [Field::yesNo('by_taper', 'Ended by the taper?')])->in(
                'supply?do=charge',
                'At the supply',
            ),
            Step::wait('top', 'Let it rest full for two hours: the gauge looks at its open voltage.', ProtocolLimits::GAUGE_FULL_MIN),
            Step::do('load-on', 'Put the load on, and a log: from here without a pause.'),
            Step::ask('down', 'Discharge it until the gauge shows 0 or the board cuts.', [
                Field::number('measured_ah', 'The cells gave, Ah', 0.0, self::MOST_AH),
                Field::number('wh', 'The cells gave, Wh', 0.0, self::MOST_AH, true),
                Field::number('at_end', 'The gauge showed at the end, %', 0.0, 100.0),
            ]),
            Step::wait('bottom', 'Let it rest empty for five hours.', ProtocolLimits::GAUGE_EMPTY_MIN),
            Step::do('charger-on', 'Put the charger on: from here without a pause.'),
            Step::ask('full-again', 'Charge it fully again.', [Field::yesNo('by_taper', 'Ended by the taper?')])->in(
                'supply?do=charge',
                'At the supply',
            ),
            Step::ask('after', 'Read what the gauge says now.', $gauge)->in('probe?test=bms-report', 'Read the board\'s report'),
        ];
    }

    public function watch(Course $c): array
    {
        return [sprintf('No group under %.2f V on the way down: load off.', $c->pack->profile()->floorV), ...Ready::warm($c, true)];
    }

    public function found(Course $c, Step $step, float $since): ?Entry
    {
        return in_array($step->code, ['full', 'full-again'], true) ? Found::run($c, $step->code, 'charge', $since) : null;
    }

    public function outcome(Course $c): Outcome
    {
        $ah = (float) $c->values('down')->float('measured_ah');
        $nominal = $c->pack->series * $c->pack->profile()->nominalV;
        $wh = $c->values('down')->float('wh') ?? $ah * $nominal;
        $before = $c->values('before')->float('full_charge_wh') ?? 0.0;
        $after = $c->values('after')->float('full_charge_wh') ?? 0.0;
        $missing = [];
        foreach (['full' => 'before', 'full-again' => 'after'] as $step => $when) {
            if ($c->values($step)->bool('by_taper') !== true) {
                $missing[] = "The charge $when it did not end by the taper: the gauge has no full to learn.";
            }
        }
        foreach (
            [['full', 'load-on', ProtocolLimits::GAUGE_FULL_MIN, 'full'], ['down', 'charger-on', ProtocolLimits::GAUGE_EMPTY_MIN, 'empty']]
            as [$from, $to, $least, $how]
        ) {
            $rested = $c->minutes($from, $to);
            if ($rested !== null && $rested < $least) {
                $missing[] = sprintf('It rested %s for %.0f min: %.0f are wanted, the gauge had not looked yet.', $how, $rested, $least);
            }
        }
        $check = GaugeCheck::of($after, $wh);
        $was = GaugeCheck::of($before, $wh);

        return Outcome::of(
            !$check['stale'],
            $missing,
            sprintf('Before it was %+.0f %% off the cells, now %+.0f %%', 100 * $was['off'], 100 * $check['off']),
            [$check['text']],
            [
                array_filter(
                    [
                        'kind' => 'gauge',
                        'full_charge_wh' => $after,
                        'design_wh' => $c->values('after')->float('design_wh') ?? $c->values('before')->float('design_wh'),
                    ],
                    fn(mixed $x): bool => $x !== null,
                ),
                [
                    'kind' => 'capacity',
                    'scope' => 'pack',
                    'measured_ah' => $ah,
                    'started_full' => $c->values('full')->bool('by_taper') === true,
                ],
            ],
            [Check::Gauge->value => ['sane' => !$check['stale']]],
        );
    }
}
