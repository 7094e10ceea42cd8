<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A board's report as pasted, or the line to ask. */
final class BoardReportBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['text' => 'nullable|string|max:20000', 'instrument_id' => 'nullable|integer'];
    }
}
