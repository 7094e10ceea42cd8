<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** The customer that is the same person. */
final class MergeBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['from' => 'required|integer|min:1'];
    }
}
