<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Volts of a pack and of the siblings that it goes back beside. */
final class ToppingJoinBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'pack_v' => 'required|numeric|between:0,1000',
            'siblings_v' => 'required|numeric|between:0,1000',
            'siblings' => 'required|integer|between:1,199',
        ];
    }
}
