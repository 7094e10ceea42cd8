<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** What was taken last off a meter, and what is known of the tap that is next. */
final class SteadyBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'since' => 'nullable|numeric',
            'left_v' => 'nullable|numeric',
            'has_left' => 'required|boolean',
            'before' => 'nullable|numeric',
            'typical' => 'nullable|numeric',
            'groups' => 'required|integer|between:1,200',
        ];
    }
}
