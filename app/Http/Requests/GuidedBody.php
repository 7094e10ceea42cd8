<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Which guided run is begun, and on what of the pack. */
final class GuidedBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'code' => 'required|string|max:40',
            'where' => 'nullable|array:group,joint',
            'where.group' => 'nullable|integer|min:1',
            'where.joint' => 'nullable|integer|min:0',
        ];
    }
}
