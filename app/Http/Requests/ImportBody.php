<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A job record as text, and whose it is. */
final class ImportBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['customer' => 'required|string|max:160', 'record' => 'required|string|max:33554432'];
    }
}
