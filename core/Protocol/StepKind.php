<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol;

/** What a step of a guided run wants. */
enum StepKind: string
{
    /** Something is done, and said to be. */
    case Do = 'do';
    /** Time passes. */
    case Wait = 'wait';
    /** Groups are read: a set of the record. */
    case Read = 'read';
    /** Rows are written down until it ends. */
    case Log = 'log';
    /** Something else is measured or answered. */
    case Ask = 'ask';
}
