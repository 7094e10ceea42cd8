<?php

declare(strict_types=1);

namespace App\Models;

/** One act of a round; none is changed. */
final class TrainingAct extends Row
{
    public $timestamps = false;

    public $incrementing = false;

    protected $keyType = 'string';

    protected $table = 'training_acts';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['act' => 'array', 'at' => 'immutable_datetime'];
    }
}
