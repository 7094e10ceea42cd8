<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Foundation\Auth\User;

/** Somebody who works in a workshop, with a role. */
final class Person extends User
{
    protected $table = 'people';

    protected $guarded = [];

    protected $hidden = ['password', 'remember_token', 'code_hash', 'totp_secret', 'totp_step'];

    protected $attributes = ['active' => true, 'competence' => '[]', 'version' => 1];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'password' => 'hashed',
            'active' => 'boolean',
            'totp_secret' => 'encrypted',
            'totp_since' => 'immutable_datetime',
            'disabled_at' => 'immutable_datetime',
            'competence' => 'array',
        ];
    }

    /** Kept in one form, so that case makes no other account of it. */
    public function setEmailAttribute(string $email): void
    {
        $this->attributes['email'] = mb_strtolower(trim($email));
    }

    /** @return BelongsTo<Workshop, $this> */
    public function workshop(): BelongsTo
    {
        return $this->belongsTo(Workshop::class);
    }
}
