<?php

declare(strict_types=1);

namespace App\Http\Views;

use App\Models\TestLog;

/** Logs as lists show them. */
final class LogView
{
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
