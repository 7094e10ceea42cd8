<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

/** No layout fits: what would. */
final class CannotBuild extends \DomainException {}
