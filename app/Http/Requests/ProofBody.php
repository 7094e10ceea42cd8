<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Heartwood\Core\Proof\Check;
use Illuminate\Validation\Rule;

/** What a check of the proof found; its own fields follow the check. */
final class ProofBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['check' => ['required', Rule::enum(Check::class)], 'data' => 'present|array'];
    }

    public function check(): Check
    {
        return Check::from($this->validated('check'));
    }

    /** @return array<string, mixed> what was found, in the fields of the check */
    public function entered(): array
    {
        $fields = array_column($this->check()->fields(), 'kind', 'name');
        $rules = array_map(
            fn(string $kind): string => [
                'number' => 'required|numeric|between:-100000,100000',
                'yes-no' => 'required|boolean',
                'text' => 'required|string|max:2000',
            ][$kind],
            $fields,
        );
        $clean = validator((array) $this->validated('data'), $rules)->validate();

        return array_combine(
            array_keys($clean),
            array_map(
                fn(mixed $value, string $name): mixed => $fields[$name] === 'number' ? (float) $value : $value,
                $clean,
                array_keys($clean),
            ),
        );
    }
}
