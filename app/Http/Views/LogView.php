<?php

declare(strict_types=1);

namespace App\Http\Views;

use App\Models\Cell;
use App\Models\Job;
use App\Models\TestLog;

/** Logs as lists show them. */
final class LogView
{
    /** What a log is of, in words. */
    public static function of(TestLog $l): string
    {
        if ($l->cell_id !== null) {
            return 'cell ' . Cell::query()->whereKey($l->cell_id)->value('code');
        }

        return 'job ' . Job::query()->whereKey($l->job_id)->value('number') . ($l->group_no === null ? '' : ", group $l->group_no");
    }

    /** @return array<string, mixed> */
    public static function row(TestLog $l): array
    {
        return [
            'id' => $l->id,
            'name' => $l->name,
            'bytes' => $l->bytes,
            'tester' => $l->tester,
            'cell_id' => $l->cell_id,
            'job_id' => $l->job_id,
            'group_no' => $l->group_no,
            'at' => $l->imported_at->toIso8601ZuluString(),
            'capacity' => $l->figures['capacity'] ?? null,
            'rows' => $l->figures['rows'] ?? 0,
            'skipped' => $l->figures['skipped'] ?? 0,
            'errors' => $l->figures['errors'] ?? [],
        ];
    }
}
