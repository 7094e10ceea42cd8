<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** The window of looks at a meter. */
final class SteadyBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'window' => 'present|array|max:40',
            'window.*.t' => 'required|numeric',
            'window.*.v' => 'nullable|numeric',
            't' => 'required|numeric',
            'left_v' => 'nullable|numeric',
            'has_left' => 'required|boolean',
            'before' => 'nullable|numeric',
            'typical' => 'nullable|numeric',
            'groups' => 'required|integer|between:1,200',
        ];
    }
}
