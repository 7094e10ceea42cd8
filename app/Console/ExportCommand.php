<?php

declare(strict_types=1);

namespace App\Console;

use App\Actions\BuildRecord;
use App\Models\Job;
use App\Models\Pack;
use App\Read\Passport;
use App\Read\PassportExport;
use Illuminate\Console\Command;

/** Writes every passport and every job record of this server as open files: to hand on, and to hold against those of another server. */
final class ExportCommand extends Command
{
    private const FLAGS = JSON_PRETTY_PRINT | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_THROW_ON_ERROR;

    protected $signature = 'heartwood:export {folder : where they are written}';

    protected $description = 'Write all passports and job records as open files';

    public function handle(): int
    {
        $said = $this->argument('folder');
        $folder = rtrim(is_string($said) ? $said : '', '/');
        if (!is_dir($folder) || !is_writable($folder)) {
            $this->error("heartwood: the folder $folder is not there, or cannot be written.");

            return self::FAILURE;
        }
        $packs = $jobs = 0;
        foreach (Pack::query()->orderBy('id')->lazy() as $pack) {
            $this->keep("$folder/passport-{$pack->workshop_id}-" . Passport::code($pack->code) . '.json', PassportExport::of($pack));
            $packs++;
        }
        foreach (Job::query()->orderBy('id')->lazy() as $job) {
            $this->keep("$folder/job-{$job->workshop_id}-{$job->number}.json", BuildRecord::of($job));
            $jobs++;
        }
        $this->line("$packs passports and $jobs job records in $folder");

        return self::SUCCESS;
    }

    /** @param  array<string, mixed>  $document */
    private function keep(string $file, array $document): void
    {
        file_put_contents($file, json_encode($document, self::FLAGS) . "\n");
    }
}
