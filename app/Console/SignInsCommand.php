<?php

declare(strict_types=1);

namespace App\Console;

use App\Demo\DemoWorkshop;
use App\Models\Person;
use Illuminate\Console\Command;

/** Prints the demo sign-ins, and nothing for people who are not of the demo. */
final class SignInsCommand extends Command
{
    protected $signature = 'heartwood:sign-ins';

    protected $description = 'Print the demo sign-ins';

    public function handle(): int
    {
        foreach (DemoWorkshop::PEOPLE as [$name, $email, $role]) {
            if (Person::query()->where('email', $email)->exists()) {
                $this->line(sprintf('  %-11s %-24s password: %s  (%s)', $role, $email, DemoWorkshop::PASSWORD, $name));
            }
        }

        return self::SUCCESS;
    }
}
