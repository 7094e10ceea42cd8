<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Heartwood\Core\Service\MessageKind;
use Illuminate\Validation\Rule;

/** Whether a customer agrees to be written to about one kind of thing, and how that was said. */
final class AgreeMessageBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'kind' => ['required', Rule::enum(MessageKind::class)],
            'agreed' => 'required|boolean',
            'how' => 'required|in:counter,phone,message',
        ];
    }
}
