<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Facts of the shop, by key; core says of each what it may be. */
final class SettingsBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['name' => 'sometimes|required|string|max:120', 'values' => 'sometimes|array|max:60'];
    }
}
