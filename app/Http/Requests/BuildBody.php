<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** The cells of each group, by their codes; none of a group that keeps its own. */
final class BuildBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'groups' => 'required|array|min:1|max:200',
            // None: the group keeps the cells that it has.
            'groups.*' => 'array',
            'groups.*.*' => 'string|max:40',
            'ratio' => 'nullable|numeric|between:1,10',
        ];
    }
}
