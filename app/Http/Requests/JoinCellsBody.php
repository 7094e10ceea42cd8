<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Heartwood\Core\Pack\Chemistry;
use Illuminate\Validation\Rule;

/** Two sides before they are put in parallel. */
final class JoinCellsBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        $rules = ['whole_pack' => 'nullable|boolean'];
        foreach (['a', 'b'] as $side) {
            $rules += [
                "$side.v" => 'required|numeric|between:-2000,2000',
                "$side.chemistry" => ['nullable', Rule::enum(Chemistry::class)],
                "$side.mohm" => 'required|numeric|between:0.01,100000',
                "$side.ah" => 'required|numeric|between:0.01,100000',
                "$side.max_charge_a" => 'required|numeric|between:0.001,10000',
            ];
        }

        return $rules;
    }
}
