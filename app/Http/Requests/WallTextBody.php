<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A wall as it is pasted: volts of the groups, or what they hold. */
final class WallTextBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['text' => 'required|string|max:400000', 'what' => 'required|in:volts,ah'];
    }
}
