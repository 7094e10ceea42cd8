<?php

declare(strict_types=1);

namespace App\Http\Requests;

use App\Models\Photo;
use Illuminate\Validation\Rule;

/** What is said of a photo, and marked on it: places as shares of its width and height. */
final class PhotoChangeBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'about' => ['sometimes', 'nullable', Rule::in(Photo::ABOUT)],
            'note' => 'sometimes|nullable|string|max:400',
            'on_report' => 'sometimes|boolean',
            'removed' => 'sometimes|boolean',
            'marks' => 'sometimes|array|max:60',
            'marks.*.x' => 'required|numeric|between:0,1',
            'marks.*.y' => 'required|numeric|between:0,1',
            'marks.*.text' => 'nullable|string|max:120',
        ];
    }
}
