<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** How a message was done with, when the program did not send it. */
final class MessageDoneBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['as' => 'required|in:copied,dropped,sent'];
    }
}
