<?php

declare(strict_types=1);

namespace Heartwood\Core\Record;

/** What a pack drives. */
enum PackKind: string
{
    case Tool = 'tool';
    case Scooter = 'scooter';
    case EBike = 'e-bike';
    case Laptop = 'laptop';
    case LightEv = 'light-ev';
    case Storage = 'storage';
    case Other = 'other';
}
