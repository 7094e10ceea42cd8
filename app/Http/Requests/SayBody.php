<?php

declare(strict_types=1);

namespace App\Http\Requests;

use App\Actions\SayToRun;
use Illuminate\Validation\Rule;

/** What a run is told. */
final class SayBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'do' => ['required', Rule::in(SayToRun::ALL)],
            'why' => 'required_if:do,end|nullable|string|max:500',
            'v' => 'required_if:do,plan|required_if:do,ambient|nullable|numeric|between:-1000,1000',
            'a' => 'nullable|numeric|between:-1000,1000',
            'c' => 'nullable|numeric|between:-60,200',
        ];
    }
}
