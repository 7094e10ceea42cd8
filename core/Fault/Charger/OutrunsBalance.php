<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Charger;

use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;

final class OutrunsBalance extends Fault
{
    public const CODE = 'charger.outruns-balance';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The charger outruns the balancing',
            'This charger is faster than the pack can even itself out.',
            'the groups stay together to the taper',
        );
    }

    public function tests(): array
    {
        return [TestKind::FullChargeWatch];
    }
}
