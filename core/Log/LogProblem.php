<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

/** A log that cannot be read: what is wrong with it, and the mend. */
final class LogProblem extends \DomainException {}
