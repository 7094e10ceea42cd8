<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Whose figures become those of the others. */
final class ShareBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['job' => 'required|integer'];
    }
}
