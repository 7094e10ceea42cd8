<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** What is edited of the intake. */
final class EditIntakeBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'name' => 'sometimes|required|string|max:160',
            'serial' => 'nullable|string|max:80',
            'batch' => 'nullable|string|max:80',
            'complaint' => 'nullable|string|max:5000',
            'pack' => 'sometimes|array',
        ];
    }
}
