<?php

declare(strict_types=1);

namespace App\Http\Requests;

use App\Policies\Rights;
use Illuminate\Validation\Rule;

/** Whom to invite, as what. */
final class InviteBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'name' => 'required|string|max:120',
            'email' => 'nullable|string|email:rfc|max:190',
            'role' => ['required', 'string', Rule::in(Rights::ROLES)],
        ];
    }
}
