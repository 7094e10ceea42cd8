<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

/** An act that cannot be done, and why; nothing of it is unsafe. */
final class InVain extends \RuntimeException {}
