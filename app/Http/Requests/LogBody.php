<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A log, how it is read and what it is of. */
final class LogBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'file' => 'required|file|max:32000',
            'mapping' => 'nullable|json|max:5000',
            'tester' => 'nullable|string|max:80',
            'cell_id' => 'nullable|integer',
            'job_id' => 'nullable|integer',
            'group_no' => 'nullable|integer|between:1,200',
            'four_wire' => 'nullable|boolean',
            'lead_mohm' => 'nullable|numeric|between:0,1000',
            'ambient_c' => 'nullable|numeric|between:-40,80',
            'sign' => 'nullable|in:1,-1',
        ];
    }
}
