<?php

declare(strict_types=1);

namespace App\Http\Requests;

use App\Models\Job;

/** A joint, its torque and its tool. */
final class JointBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        /** @var Job $job */
        $job = $this->route('job');

        return [
            'tap' => "required|integer|between:0,{$job->series}",
            'min_nm' => 'required|numeric|between:0.01,500',
            'max_nm' => 'required|numeric|between:0.01,500',
            'tolerance' => 'required|numeric|between:0,0.9',
            'set_nm' => 'nullable|numeric|between:0,500',
            'contact' => 'nullable|string|max:200',
            'tool' => 'nullable|string|max:80',
            'both_ends' => 'nullable|boolean',
            'before_mv' => 'nullable|numeric|between:-5000,5000',
            'after_mv' => 'nullable|numeric|between:-5000,5000',
            'amps' => 'nullable|numeric|between:-2000,2000',
        ];
    }
}
