<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A dump of a gauge's registers. */
final class RegistersBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['dump' => 'required|string|max:20000'];
    }
}
