<?php

declare(strict_types=1);

namespace App\Models;

/** Cells that came together: supplier, date code, price each; and whether a delivery was taken once its sample was tested. */
final class Lot extends Row
{
    /** A delivery whose sample is not tested yet; what may be used; what goes back. */
    public const STATES = ['incoming', 'taken', 'refused'];

    public $timestamps = true;

    protected $table = 'lots';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['decided_at' => 'immutable_datetime'];
    }
}
