<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Volts of the group and amps of the supply when a topping ended. */
final class ToppingEndBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['group_v' => 'required|numeric|between:-10,10', 'amps' => 'required|numeric|between:0,1000'];
    }
}
