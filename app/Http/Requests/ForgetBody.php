<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** What goes with a customer who is forgotten. */
final class ForgetBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['photos' => 'sometimes|boolean'];
    }
}
