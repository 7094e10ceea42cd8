<?php

declare(strict_types=1);

namespace App\Console;

use App\Demo\DemoWorkshop;
use App\Models\Workshop;
use Carbon\Carbon;
use Carbon\CarbonImmutable;
use Illuminate\Console\Command;
use Illuminate\Support\Facades\DB;

/** Loads the demo workshop through the actions that people call, with times relative to now. */
final class DemoCommand extends Command
{
    protected $signature = 'heartwood:demo {--if-empty}';

    protected $description = 'Load the demo workshop';

    public function handle(): int
    {
        if (Workshop::query()->exists()) {
            $this->line($this->option('if-empty') ? 'data is kept' : 'There is data already: ./heartwood reset-demo throws it away first.');

            return $this->option('if-empty') ? self::SUCCESS : self::FAILURE;
        }
        try {
            $jobs = DB::transaction(fn (): int => (new DemoWorkshop(CarbonImmutable::now()))->load());
        } finally {
            Carbon::setTestNow();
            CarbonImmutable::setTestNow();
        }
        $this->line("demo loaded: $jobs jobs");

        return self::SUCCESS;
    }
}
