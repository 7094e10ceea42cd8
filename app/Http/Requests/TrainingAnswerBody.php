<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Repair\RepairAction;
use Illuminate\Validation\Rule;

/** What it is, how sure, and what is to be done: no findings mean that nothing is wrong. */
final class TrainingAnswerBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'findings' => 'present|array|max:12',
            'findings.*' => 'array:code,where,probability',
            'findings.*.code' => ['required', 'string', Rule::in(Faults::codes())],
            'findings.*.where' => 'nullable|array:group,tap,joint|max:1',
            'findings.*.where.*' => 'integer|min:0|max:200',
            'findings.*.probability' => 'required|numeric|min:0|max:1',
            'nothing' => 'nullable|numeric|min:0|max:1',
            'carry_out' => 'nullable|boolean',
            'option' => 'nullable|array:action,where',
            'option.action' => ['required_with:option', Rule::enum(RepairAction::class)],
            'option.where' => 'nullable|array|max:200',
            'option.where.*' => 'array:group,tap,joint|max:1',
            'option.where.*.*' => 'integer|min:0|max:200',
        ];
    }
}
