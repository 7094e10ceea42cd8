<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Insulation of a supply's output, megohm. */
final class IsolationBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['mohm' => 'required|numeric|between:0,100000'];
    }
}
