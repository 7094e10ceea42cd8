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

    protected $hidden = ['password', 'remember_token'];

    protected $attributes = ['active' => true];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['password' => 'hashed', 'active' => 'boolean'];
    }

    /** @return BelongsTo<Workshop, $this> */
    public function workshop(): BelongsTo
    {
        return $this->belongsTo(Workshop::class);
    }
}
