<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** What a shop says of a lot. */
final class EditBatchBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return self::figures('sometimes|');
    }

    /** @return array<string, string> */
    public static function figures(string $when): array
    {
        return [
            'supplies' => $when . 'required|integer|between:0,100',
            'places' => $when . 'required|integer|between:0,1000',
            'hours_a_day' => $when . 'required|numeric|between:0.25,24',
            'paid_cents' => $when . 'nullable|integer|between:0,100000000',
            'sells_cents' => $when . 'nullable|integer|between:0,100000000',
            'margin_percent' => $when . 'nullable|numeric|between:0,95',
        ];
    }
}
