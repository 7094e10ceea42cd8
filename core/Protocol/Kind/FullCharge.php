<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol\Kind;

use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Protocol\Course;
use Heartwood\Core\Protocol\Outcome;
use Heartwood\Core\Protocol\Ready;
use Heartwood\Core\Record\Condition;

/** A full charge with every group read all along. */
class FullCharge extends Watched
{
    public function code(): string
    {
        return 'full-charge';
    }

    public function title(): string
    {
        return 'Watch a full charge';
    }

    public function why(): string
    {
        return 'Every group read all along: shows which is full first, and whether charger or board ends it.';
    }

    public function charges(): bool
    {
        return true;
    }

    public function tests(): array
    {
        return [TestKind::FullChargeWatch];
    }

    public function proves(): array
    {
        return [Check::Taper];
    }

    protected function condition(): Condition
    {
        return Condition::Charge;
    }

    protected function endedBy(): array
    {
        return ['charger', 'bms', 'person'];
    }

    public function needs(Course $c): array
    {
        return [Ready::read($c), Ready::chargeable($c)];
    }

    public function steps(Course $c): array
    {
        return [
            $this->rows('Put it on charge and stay. Read every group every five minutes, in the last tenth every half minute.')->in(
                'supply?do=charge',
                'Charge it at the supply',
            ),
            $this->end('When it ended: by whom, and after how much?'),
        ];
    }

    public function watch(Course $c): array
    {
        return [
            sprintf('No group past %.3f V: charge off.', $c->pack->workingFullV() + RunLimits::PAST_FULL_AT_ONCE_V),
            ...Ready::warm($c, true),
        ];
    }

    public function outcome(Course $c): Outcome
    {
        [$last, $first, $ahead, $missing] = $this->told($c);
        $by = $c->values('end')->string('stopped_by');
        $reasons = $this->past($c);
        if ($by === 'bms') {
            $reasons[] = 'The board stopped it: the pack was not full.';
        }
        if ($by === 'person') {
            $missing[] = 'A person ended it: how it ends by itself is not seen.';
        }
        $text = match (true) {
            $first === null => 'Ended, no group seen.',
            default => sprintf('Group %d was there first, %.0f mV ahead of the next, at %.3f V', $first, 1000 * $ahead, $last[$first - 1]),
        };

        return Outcome::of($reasons === [], $missing, $text, $reasons, $this->test($c, 'charge', $last));
    }

    /** @return list<string> groups that went past their full voltage at any row */
    protected function past(Course $c): array
    {
        $limit = $c->pack->workingFullV() + RunLimits::PAST_FULL_AT_ONCE_V;
        $worst = [];
        foreach ($c->all('watch') as $row) {
            foreach ($c->groupsOf($row) as $i => $v) {
                if ($v !== null && $v > $limit) {
                    $worst[$i + 1] = max($v, $worst[$i + 1] ?? $v);
                }
            }
        }

        return array_map(
            fn(int $k, float $v): string => sprintf('Group %d went to %.3f V, past full.', $k, $v),
            array_keys($worst),
            $worst,
        );
    }
}
