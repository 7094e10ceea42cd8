<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol\Kind;

use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Limits\ProofLimits;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Protocol\Course;
use Heartwood\Core\Protocol\Field;
use Heartwood\Core\Protocol\Outcome;
use Heartwood\Core\Protocol\Protocol;
use Heartwood\Core\Protocol\Step;

/** Case to either terminal, everything connected that belongs to it and nothing that does not. */
final class Insulation extends Protocol
{
    /** No tester shows more. */
    private const MOST_MOHM = 1e6;

    public function code(): string
    {
        return 'insulation';
    }

    public function title(): string
    {
        return 'Measure the insulation';
    }

    public function why(): string
    {
        return 'Case to B+ and case to B-, closed as it goes back: a lead that was pinched shows here and nowhere else.';
    }

    public function moves(): bool
    {
        return false;
    }

    public function tests(): array
    {
        return [TestKind::Insulation];
    }

    public function proves(): array
    {
        return [Check::Insulation];
    }

    public function steps(Course $c): array
    {
        return [
            Step::do('apart', 'Charger, load, meters and instruments off; lid on, screws in.'),
            Step::ask('read', 'The tester from bare metal of the case to each end of the string.', [
                Field::number('plus_mohm', 'Case to B+, Mohm', 0.0, self::MOST_MOHM),
                Field::number('minus_mohm', 'Case to B-, Mohm', 0.0, self::MOST_MOHM),
            ]),
        ];
    }

    public function outcome(Course $c): Outcome
    {
        $v = $c->values('read');
        $least = min((float) $v->float('plus_mohm'), (float) $v->float('minus_mohm'));
        $end = $v->float('plus_mohm') < $v->float('minus_mohm') ? 'B+' : 'B-';

        return Outcome::of(
            $least > ProofLimits::INSULATION_MOHM,
            [],
            sprintf('%.3g Mohm', $least),
            $least > ProofLimits::INSULATION_MOHM
                ? []
                : [sprintf('Under %.0f Mohm to %s: find where it touches the case.', ProofLimits::INSULATION_MOHM, $end)],
            [['kind' => 'insulation', 'mohm' => $least]],
        );
    }
}
