<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A label as far as it is typed. */
final class LabelBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['pack' => 'required|array', 'cells_counted' => 'nullable|integer|min:0'];
    }
}
