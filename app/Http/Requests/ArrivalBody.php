<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** The list of a lot as it is typed or scanned. */
final class ArrivalBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['list' => 'required|string|max:40000'];
    }
}
