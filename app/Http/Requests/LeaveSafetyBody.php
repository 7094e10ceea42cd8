<?php

declare(strict_types=1);

namespace App\Http\Requests;

use App\Actions\LeaveSafety;
use Illuminate\Validation\Rule;

/** The way out of a hold or a quarantine, and why. */
final class LeaveSafetyBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['way' => ['required', Rule::in(LeaveSafety::WAYS)], 'reason' => 'required|string|min:3|max:2000'];
    }
}
