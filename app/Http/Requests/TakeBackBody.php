<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Why a hand-back is taken back. */
final class TakeBackBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['reason' => 'required|string|max:400'];
    }
}
