<?php

declare(strict_types=1);

namespace App\Models;

/** A passport that another workshop wrote, as it came, word for word. */
final class PackImport extends Row
{
    public $timestamps = false;

    protected $table = 'pack_imports';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['at' => 'immutable_datetime'];
    }

    /** @return array<string, mixed> */
    public function read(): array
    {
        return (array) json_decode((string) $this->document, true, 512, JSON_THROW_ON_ERROR);
    }
}
