<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Relations\HasMany;

/** Whose pack it is. One that was merged into another stays as a name by which that other is found. */
final class Customer extends Row
{
    public $timestamps = true;

    protected $table = 'customers';

    protected $attributes = [
        'contact' => '',
        'phone' => '',
        'email' => '',
        'address' => '',
        'agreements' => '',
        'notes' => '',
        'version' => 1,
    ];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['forgotten_at' => 'immutable_datetime'];
    }

    /** The customer of this name, made where there is none; a name that was merged away leads to where it went. */
    public static function named(int $workshop, string $name, string $contact = ''): self
    {
        $new = ['contact' => $contact];
        if (preg_match('/^[^\s@]+@[^\s@]+$/D', $contact) === 1) {
            $new += ['email' => $contact];
        } elseif (preg_match('/^[+0-9 ()\/.-]{5,60}$/D', $contact) === 1) {
            $new += ['phone' => $contact];
        }
        $found = self::query()->firstOrCreate(['workshop_id' => $workshop, 'name' => $name], $new);

        return $found->merged_into === null ? $found : self::query()->whereKey($found->merged_into)->firstOrFail();
    }

    /** @return Builder<self> those who are somebody: not merged away */
    public static function of(int $workshop): Builder
    {
        return self::query()->where('workshop_id', $workshop)->whereNull('merged_into');
    }

    /** Digits from which a term is taken for part of a telephone number. */
    private const DIGITS_FOUND = 4;

    /** @return Builder<self> by name, number, address, or a name that was merged away */
    public static function matching(int $workshop, string $term): Builder
    {
        $q = self::of($workshop);
        if ($term === '') {
            return $q;
        }
        $like = '%' . addcslashes($term, '%_\\') . '%';
        // A telephone number is found however its digits are set apart.
        $digits = (string) preg_replace('/\D+/', '', $term);

        return $q->where(function (Builder $w) use ($like, $digits, $workshop): void {
            foreach (['name', 'phone', 'email', 'contact', 'address'] as $field) {
                $w->orWhere($field, 'like', $like);
            }
            if (strlen($digits) >= self::DIGITS_FOUND) {
                $w->orWhereRaw("regexp_replace(phone, '[^0-9]', '') like ?", ["%$digits%"]);
            }
            $w->orWhereIn(
                'id',
                self::query()
                    ->where('workshop_id', $workshop)
                    ->whereNotNull('merged_into')
                    ->where('name', 'like', $like)
                    ->select('merged_into'),
            );
        });
    }

    /** @return HasMany<Job, $this> */
    public function jobs(): HasMany
    {
        return $this->hasMany(Job::class);
    }
}
