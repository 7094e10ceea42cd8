<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A joint that is looked at again: its millivolts at a stated current. */
final class JointAgainBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['mv' => 'required|numeric|between:-5000,5000', 'amps' => 'required|numeric|between:-2000,2000'];
    }
}
