<?php

declare(strict_types=1);

namespace App\Http\Requests;

use App\Models\Photo;
use Illuminate\Validation\Rule;

/** A photo under its own name. */
final class PhotoBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'id' => 'required|uuid',
            'file' => 'required|file',
            'about' => ['nullable', Rule::in(Photo::ABOUT)],
            'at' => 'nullable|date',
        ];
    }
}
