<?php

declare(strict_types=1);

pest()->extend(Tests\TestCase::class)->in('Feature');

// Searches that take their time: run in the other lane of `./heartwood test`, with nothing left out.
pest()->group('long')->in('Core/BuildTest.php', 'Core/ShapesTest.php', 'Core/MatchingTest.php');
