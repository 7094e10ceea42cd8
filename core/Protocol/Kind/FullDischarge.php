<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol\Kind;

use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Protocol\Course;
use Heartwood\Core\Protocol\Outcome;
use Heartwood\Core\Protocol\Ready;
use Heartwood\Core\Record\Condition;

/** A full discharge with every group read all along. */
final class FullDischarge extends Watched
{
    public function code(): string
    {
        return 'full-discharge';
    }

    public function title(): string
    {
        return 'Watch a full discharge';
    }

    public function why(): string
    {
        return 'Every group read all along: shows which is empty first, and what was in it when the board cut.';
    }

    public function tests(): array
    {
        return [TestKind::FullDischargeWatch];
    }

    protected function condition(): Condition
    {
        return Condition::Discharge;
    }

    protected function endedBy(): array
    {
        return ['bms', 'person'];
    }

    public function needs(Course $c): array
    {
        return [Ready::read($c), Ready::dischargeable($c)];
    }

    public function steps(Course $c): array
    {
        return [
            $this->rows('Put the load on and stay. Read every group every five minutes, in the last tenth every half minute.'),
            $this->end('When it ended: by whom, and after how much?'),
        ];
    }

    public function watch(Course $c): array
    {
        return [
            sprintf('No group under %.2f V: load off, whatever the board does.', $c->pack->profile()->floorV),
            ...Ready::warm($c, false),
        ];
    }

    public function outcome(Course $c): Outcome
    {
        [$last, $first, $ahead, $missing] = $this->told($c);
        $reasons = [];
        $lowest = $first === null ? null : $last[$first - 1];
        if ($c->values('end')->string('stopped_by') === 'person' && $lowest !== null && $lowest > $c->pack->lowCutV()) {
            $missing[] = 'A person ended it over the low cut: what was left in it is not seen.';
        }
        if ($lowest !== null && $lowest < $c->pack->profile()->floorV) {
            $reasons[] = sprintf('Group %d fell to %.2f V: the board let it.', $first, $lowest);
        }
        $text =
            $first === null
                ? 'Ended, no group seen.'
                : sprintf('Group %d was empty first, %.0f mV under the next, at %.3f V', $first, 1000 * $ahead, $lowest);

        return Outcome::of($reasons === [], $missing, $text, $reasons, $this->test($c, 'discharge', $last));
    }
}
