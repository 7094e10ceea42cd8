<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** What is known of a customer. */
final class CustomerBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'name' => 'sometimes|required|string|max:160',
            'contact' => 'sometimes|nullable|string|max:190',
            'phone' => ['sometimes', 'nullable', 'string', 'max:60', 'regex:/^[+0-9 ()\/.x-]*$/D'],
            'email' => 'sometimes|nullable|string|email:rfc|max:190',
            'address' => 'sometimes|nullable|string|max:300',
            'agreements' => 'sometimes|nullable|string|max:4000',
            'notes' => 'sometimes|nullable|string|max:4000',
        ];
    }

    /** @return array<string, string> */
    public function messages(): array
    {
        return ['phone.regex' => 'A telephone number: digits, with blanks, +, ( ) or - where they help.'];
    }
}
