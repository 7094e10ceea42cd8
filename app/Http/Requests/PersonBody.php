<?php

declare(strict_types=1);

namespace App\Http\Requests;

use App\Policies\Rights;
use Illuminate\Validation\Rule;

/** What an owner changes of a person. */
final class PersonBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'name' => 'sometimes|required|string|max:120',
            'role' => ['sometimes', 'required', 'string', Rule::in(Rights::ROLES)],
            'active' => 'sometimes|required|boolean',
            'competence' => 'sometimes|present|array|max:60',
            'competence.*' => 'array:what,note,at',
            'competence.*.what' => 'required|string|max:80',
            'competence.*.note' => 'nullable|string|max:400',
            'competence.*.at' => 'nullable|date_format:Y-m-d',
        ];
    }
}
