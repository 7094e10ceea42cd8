<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol\Kind;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Protocol\Course;
use Heartwood\Core\Protocol\Field;
use Heartwood\Core\Protocol\Needs;
use Heartwood\Core\Protocol\Outcome;
use Heartwood\Core\Protocol\Ready;
use Heartwood\Core\Protocol\Step;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Work\Facts;

/** The first charge of a build: slow, watched, behind a board that was seen to cut; only then its full current. */
final class FirstCharge extends FullCharge
{
    public function code(): string
    {
        return 'first-charge';
    }

    public function title(): string
    {
        return 'First charge of a build';
    }

    public function why(): string
    {
        return 'Joints looked at, the board seen to cut, a tenth of the capacity an hour with every group watched, levelled at the top: ' .
            'only then its full current.';
    }

    public function tests(): array
    {
        return [];
    }

    public function proves(): array
    {
        return [];
    }

    public function needs(Course $c): array
    {
        $cut = ($c->proof[Check::HighCut->value] ?? new Fields([]))->float('v');
        $pins = $c->record->currentTests('pin-check');

        return [
            Ready::read($c),
            Ready::chargeable($c),
            $pins === []
                ? new Needs('The plug was not read, pin by pin.', false, 'build?do=pins', 'Check the plug')
                : new Needs(sprintf('The plug was read, %s.', gmdate('j M', (int) Facts::time($pins[count($pins) - 1]->data))), true),
            $cut === null
                ? new Needs('Nobody saw the board cut at its sense input yet.', false, 'protocols?start=board-cut', 'Prove its cuts')
                : new Needs(sprintf('The board was seen to cut at %.3f V.', $cut), true),
        ];
    }

    public function steps(Course $c): array
    {
        $amps = $c->ampsOver(1 / RunLimits::CHARGE_C);

        return [
            Step::do('joints', 'Every joint and weld looked at and tugged, nothing bare, nothing warm.'),
            $this->rows(
                sprintf(
                    'Charge it at %s at the most, and stay. Read every group every five minutes, in the last tenth every half minute.',
                    $amps === null ? 'a tenth of its capacity an hour' : sprintf('%.2f A', $amps),
                ),
            )->in('supply?do=charge', 'Charge it at the supply'),
            $this->end('When it ended: by whom, and after how much?'),
            Step::ask('level', 'Level it at the top, by the board or singly. What did the groups come to?', [
                Field::volts('top_v', 'Volts of the groups at the top, from B-'),
            ])->in('supply?do=balance', 'Charge them singly'),
            Step::ask('full-current', 'Now its full current for ten minutes, a hand near the switch.', [
                Field::number('amps', 'Current, A', 0.0, self::MOST_A),
                Field::number('room_c', 'The room, degC', self::LEAST_C, self::MOST_C),
                Field::number('place_c', 'Hottest place, degC', self::LEAST_C, self::MOST_C),
            ]),
        ];
    }

    protected function against(Course $c, Step $step, Fields $values): array
    {
        $most = $c->ampsOver(1 / RunLimits::CHARGE_C);
        $amps = $values->float('current_a');

        return $step->code === 'watch' && $most !== null && $amps !== null && $amps > $most * (1 + RunLimits::OVER_SHARE)
            ? ['current_a' => sprintf('Over %.2f A: turn it down first, then write the row.', $most)]
            : [];
    }

    public function outcome(Course $c): Outcome
    {
        [$last, $first, , $missing] = $this->told($c);
        $reasons = $this->past($c);
        $typed = $c->values('level')->string('top_v');
        $top = $typed === null ? [] : \Heartwood\Core\Protocol\TypedGroups::of($typed, $c->pack->chemistry)->volts;
        $read = array_filter($top, fn(?float $v): bool => $v !== null);
        $spread = $read === [] ? null : max($read) - min($read);
        if (count($read) < $c->pack->series) {
            $missing[] = 'Not every group was read at the top.';
        }
        if ($spread !== null && $spread > VerdictLimits::GOOD_V) {
            $reasons[] = sprintf('%.0f mV apart at the top: it is not level yet.', 1000 * $spread);
        }
        $v = $c->values('full-current');
        $rise = ($v->float('place_c') ?? 0.0) - ($v->float('room_c') ?? 0.0);
        if ($rise > RunLimits::DISCHARGE_OVER_AMBIENT_K) {
            $reasons[] = sprintf('%.0f K over the room at %.1f A: a joint, a link or a wire is too thin for it.', $rise, $v->float('amps'));
        }

        return Outcome::of(
            $reasons === [],
            $missing,
            sprintf('%.0f mV apart at the top; %.0f K over the room at %.1f A', 1000 * ($spread ?? 0.0), $rise, $v->float('amps') ?? 0.0) .
                ($first === null ? '' : "; group $first was there first"),
            $reasons,
            $this->test($c, 'charge', $last),
        );
    }
}
