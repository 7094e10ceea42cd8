<?php

declare(strict_types=1);

namespace App\Models;

/** A closed job of the shop as a round: its pack and what it was, nobody's name. */
final class TrainingCase extends Row
{
    public $timestamps = false;

    protected $table = 'training_cases';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['told' => 'array', 'made_at' => 'immutable_datetime'];
    }
}
