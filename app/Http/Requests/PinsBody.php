<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** The plug, volts by pin. */
final class PinsBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'pins_v' => 'required|array|min:2|max:250',
            'pins_v.*' => 'nullable|numeric|between:-2000,2000',
            'from_positive' => 'nullable|boolean',
        ];
    }
}
