<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** The cells to be graded, and by what. */
final class GradeBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'ids' => 'required|array|min:1|max:5000',
            'ids.*' => 'integer',
            'rated_ah' => 'required|numeric|between:0.01,10000',
            'least_share' => 'nullable|numeric|between:0,1',
            'most_over_lot' => 'nullable|numeric|between:1,10',
        ];
    }
}
