<?php

declare(strict_types=1);

namespace Heartwood\Core\Record;

enum Condition: string
{
    case Rest = 'rest';
    case Relaxing = 'relaxing';
    case Charge = 'charge';
    case Discharge = 'discharge';
}
