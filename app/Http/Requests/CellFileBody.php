<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Cells as lines of a file. */
final class CellFileBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['csv' => 'required|string|max:2000000'];
    }
}
