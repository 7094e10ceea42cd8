<?php

declare(strict_types=1);

namespace App\Instruments;

/** The other side hung up, and nothing of an answer had come. */
final class LineClosed extends InstrumentFault {}
