<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Whether the pack of a round goes back to whoever brought it; null: it is left on the bench. */
final class TrainingFinishBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['returned' => 'present|nullable|boolean'];
    }
}
