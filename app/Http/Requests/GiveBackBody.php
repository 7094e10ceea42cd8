<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Service\Cause;
use Illuminate\Validation\Rule;

/** What the pack went back with, and what was true of it. */
final class GiveBackBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'note' => 'nullable|string|max:2000',
            'cause' => ['nullable', Rule::enum(Cause::class)],
            'promise_months' => 'nullable|integer|between:0,60',
            'truth' => 'nullable|array|max:100',
            'truth.*' => 'array:code,where,seen_by',
            'truth.*.code' => ['required', 'string', Rule::in(Faults::codes())],
            'truth.*.where' => 'nullable|array:group,tap,joint|max:1',
            'truth.*.where.*' => 'integer|min:0|max:400',
            'truth.*.seen_by' => 'nullable|in:replaced,measured,opened,tried',
        ];
    }

    /** @return array<string, string> */
    public function messages(): array
    {
        return [
            'truth.*.code.in' => 'Choose a fault from the list.',
            'truth.*.seen_by.in' => 'Say how it was seen: replaced, measured, opened or tried.',
        ];
    }
}
