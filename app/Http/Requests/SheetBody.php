<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A sheet of the build as its form has it. */
final class SheetBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['data' => 'present|array'];
    }
}
