<?php

declare(strict_types=1);

namespace App\Http\Requests;

use App\Support\PhotoStore;

/** A photo of a pack's display, under a name of its own, and the reading that it lies beside. */
final class ServicePhotoBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'id' => 'required|uuid',
            'reading' => 'nullable|uuid',
            'at' => 'nullable|date',
            'file' => 'required|file|max:' . intdiv(PhotoStore::MOST_BYTES, 1000),
        ];
    }
}
