<?php

declare(strict_types=1);

pest()->extend(Tests\TestCase::class)->in('Feature');

// Searches that take their time: run in the other lane of `./heartwood test`, with nothing left out.
pest()->group('long')->in('Core/BuildTest.php', 'Core/ShapesTest.php', 'Core/MatchingTest.php');

// What waits for instruments more than it computes: in a lane of its own.
pest()->group('waits')->in('Feature/HabitTest.php', 'Feature/RunnerTest.php');
