<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Entries that a bench holds as kept, asked whether they are. */
final class MissingBody extends Body
{
    /** Entries of one question. */
    private const MOST = 1000;

    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'entries' => 'required|list|min:1|max:' . self::MOST,
            'entries.*.id' => 'required|uuid',
            'entries.*.kind' => 'required|string',
            'entries.*.job_id' => 'required|integer',
        ];
    }

    /** @return list<array{id: string, kind: string, job_id: int}> */
    public function entries(): array
    {
        return array_map(
            fn(array $e): array => ['id' => (string) $e['id'], 'kind' => (string) $e['kind'], 'job_id' => (int) $e['job_id']],
            array_values((array) $this->validated()['entries']),
        );
    }
}
