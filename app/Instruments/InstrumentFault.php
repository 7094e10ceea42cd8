<?php

declare(strict_types=1);

namespace App\Instruments;

/** An instrument did not answer, or answered what cannot be used; the message says what to look at. */
class InstrumentFault extends \RuntimeException {}
