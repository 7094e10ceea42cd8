<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A price in cents; none for a pack whose price is worked out. */
final class PriceBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['price_cents' => 'present|nullable|integer|between:0,10000000'];
    }
}
