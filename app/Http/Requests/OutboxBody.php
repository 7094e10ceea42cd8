<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** What was taken at the bench, in its order. */
final class OutboxBody extends Body
{
    /** Entries of one request. */
    private const MOST = 200;

    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'outbox_id' => 'required|uuid',
            'sent_at' => 'nullable|date',
            // None: how far this server has come is all that is asked.
            'entries' => 'present|list|max:' . self::MOST,
            'entries.*.seq' => 'required|integer|min:1',
            'entries.*.id' => 'required|uuid',
            'entries.*.kind' => 'required|string',
            'entries.*.job_id' => 'required|integer',
            'entries.*.at' => 'required|date',
            'entries.*.data' => 'present|array',
            'check' => 'nullable|uuid',
        ];
    }
}
