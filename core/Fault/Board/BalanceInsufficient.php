<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Board;

use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;

final class BalanceInsufficient extends Fault
{
    public const CODE = 'bms.balance-insufficient';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The board\'s bleed is too small for this gap',
            'The protection board cannot even out this difference by itself.',
            'the difference is smaller once every group is full',
        );
    }
}
