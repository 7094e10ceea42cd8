<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A job as it comes in. */
final class OpenJobBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'customer' => 'required|string|max:160',
            'contact' => 'nullable|string|max:190',
            'name' => 'required|string|max:160',
            'serial' => 'nullable|string|max:80',
            'batch' => 'nullable|string|max:80',
            'complaint' => 'nullable|string|max:5000',
            'pack' => 'required|array',
            'pack_model_id' => 'nullable|integer',
            'save_model' => 'nullable|boolean',
            'symptoms' => 'present|array',
            'inspection' => 'present|array',
        ];
    }
}
