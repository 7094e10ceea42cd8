<?php

declare(strict_types=1);

namespace App\Http\Requests;

use App\Security\AccessLimits;

/** A personal code. */
final class CodeBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'code' => ['required', 'string', 'regex:/^\\d{' . AccessLimits::CODE_DIGITS . '}$/D'],
        ];
    }
}
