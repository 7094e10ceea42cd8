<?php

declare(strict_types=1);

namespace App\Http\Requests;

use App\Models\PartModel;
use Illuminate\Validation\Rule;

/** A device, a board or a charger, as its sheet describes it. */
final class PartModelBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'kind' => ['required', Rule::in(array_keys(PartModel::PARTS))],
            'name' => 'required|string|max:120',
            'spec' => 'required|array',
        ];
    }
}
