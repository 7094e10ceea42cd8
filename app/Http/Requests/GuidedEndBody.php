<?php

declare(strict_types=1);

namespace App\Http\Requests;

use App\Actions\GuideRun;

/** How a guided run ends: kept with what it came to, or left with a reason. */
final class GuidedEndBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['leave' => 'nullable|string|max:' . GuideRun::REASON_LETTERS];
    }
}
