<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** A text to the owner of a pack: prepared, then sent, copied by hand, or let go. */
final class Message extends Row
{
    public $timestamps = false;

    protected $table = 'messages';

    protected $attributes = ['address' => '', 'error' => '', 'tries' => 0];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['prepared_at' => 'immutable_datetime', 'done_at' => 'immutable_datetime', 'tries' => 'integer'];
    }

    /** @return BelongsTo<Pack, $this> */
    public function pack(): BelongsTo
    {
        return $this->belongsTo(Pack::class);
    }

    /** @return BelongsTo<Customer, $this> */
    public function customer(): BelongsTo
    {
        return $this->belongsTo(Customer::class);
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class);
    }
}
