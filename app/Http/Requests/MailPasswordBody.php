<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** The password at the mail server; empty: none. It is never said again. */
final class MailPasswordBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['password' => 'present|nullable|string|max:200'];
    }
}
