<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Which packs of a lot are shown one by one. */
final class LaneBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'lane' => 'nullable|in:held,supply,shelf,probe,decide,work,proof,back,done',
            'find' => 'nullable|string|max:80',
            'from' => 'nullable|integer|between:0,1000',
        ];
    }
}
