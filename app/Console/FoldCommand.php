<?php

declare(strict_types=1);

namespace App\Console;

use App\Actions\FoldRuns;
use App\Support\Beat;
use Illuminate\Console\Command;
use Illuminate\Support\Facades\DB;

/** Folds the journals of runs into the database, again and again; waits while the database is away. */
final class FoldCommand extends Command
{
    private const PRUNE_EVERY_S = 3600;

    protected $signature = 'heartwood:fold {--once : one pass, then end}';

    protected $description = 'Bring the journals of supervised runs into the database';

    public function handle(FoldRuns $fold): int
    {
        $pruned = 0;
        do {
            try {
                $fold->handle();
                Beat::touch('folder');
                if (time() - $pruned > self::PRUNE_EVERY_S) {
                    $this->callSilently('heartwood:prune');
                    $pruned = time();
                }
            } catch (\Throwable $e) {
                if ($this->option('once')) {
                    throw $e;
                }
                $this->error(date('c') . ' ' . $e->getMessage());
                DB::purge();
                sleep(2);
            }
            if (!$this->option('once')) {
                usleep(1_500_000);
            }
        } while (!$this->option('once'));

        return self::SUCCESS;
    }
}
