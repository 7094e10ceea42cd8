<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Heartwood\Core\Schedule\Stage;
use Illuminate\Validation\Rule;

/** The stage that a job goes to. */
final class StageBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['stage' => ['required', Rule::enum(Stage::class)]];
    }
}
