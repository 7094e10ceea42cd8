<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Steps as they are typed, each under its own name. */
final class TeardownBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'lines' => 'required|array|min:1|max:100',
            'lines.*.id' => 'required|uuid',
            'lines.*.line' => 'required|string|max:400',
            'lines.*.photo_id' => 'nullable|uuid',
        ];
    }
}
