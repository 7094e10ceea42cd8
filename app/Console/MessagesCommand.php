<?php

declare(strict_types=1);

namespace App\Console;

use App\Actions\OwnerMessages;
use App\Models\Workshop;
use App\Support\Beat;
use Illuminate\Console\Command;
use Illuminate\Support\Facades\DB;

/** Prepares messages to owners when something is due, and sends what may go by itself, again and again. */
final class MessagesCommand extends Command
{
    private const EVERY_S = 5;

    protected $signature = 'heartwood:messages {--once : one pass, then end}';

    protected $description = 'Prepare and send messages to owners of packs in service';

    public function handle(OwnerMessages $messages): int
    {
        do {
            try {
                foreach (Workshop::query()->orderBy('id')->get() as $shop) {
                    $messages->prepare($shop);
                    $messages->deliver($shop);
                }
                Beat::touch('messages');
            } catch (\Throwable $e) {
                if ($this->option('once')) {
                    throw $e;
                }
                $this->error(date('c') . ' ' . $e->getMessage());
                DB::purge();
            }
            if (!$this->option('once')) {
                sleep(self::EVERY_S);
            }
        } while (!$this->option('once'));

        return self::SUCCESS;
    }
}
