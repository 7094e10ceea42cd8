<?php

declare(strict_types=1);

namespace App\Console;

use App\Actions\KeepInstrument;
use App\Demo\DemoWorkshop;
use App\Models\Person;
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

    public function handle(KeepInstrument $keep): int
    {
        if (Workshop::query()->exists()) {
            $this->instruments($keep);
            $this->line($this->option('if-empty') ? 'data is kept' : 'There is data already: ./heartwood reset-demo throws it away first.');

            return $this->option('if-empty') ? self::SUCCESS : self::FAILURE;
        }
        try {
            $jobs = DB::transaction(fn(): int => (new DemoWorkshop(CarbonImmutable::now()))->load());
        } finally {
            Carbon::setTestNow();
            CarbonImmutable::setTestNow();
        }
        $this->instruments($keep);
        $this->line("demo loaded: $jobs jobs");

        return self::SUCCESS;
    }

    private function instruments(KeepInstrument $keep): void
    {
        $owner = Person::query()->where('role', 'owner')->where('email', 'like', '%@gannetquay.example')->first();
        if ($owner instanceof Person) {
            DemoWorkshop::instruments($owner, $keep);
        }
    }
}
