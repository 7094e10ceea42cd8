<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** What is looked for among customers. */
final class FindCustomerBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['q' => 'nullable|string|max:80'];
    }
}
