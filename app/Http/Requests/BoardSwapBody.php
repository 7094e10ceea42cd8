<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** The board that is to take the place of the old one. */
final class BoardSwapBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['board' => 'present|array'];
    }
}
