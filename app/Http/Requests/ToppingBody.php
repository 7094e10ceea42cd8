<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** What was measured at the clips before a group is topped up where its pack stands. */
final class ToppingBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'pack' => 'required|integer',
            'group' => 'required|integer|between:1,200',
            'supply_a' => 'nullable|numeric|between:0.01,1000',
            'group_v' => 'required|numeric|between:-10,10',
            'pack_a' => 'required|numeric|between:-1000,1000',
            'ambient_c' => 'required|numeric|between:-60,80',
            'second' => 'nullable|string|max:160',
        ];
    }

    /** @return array{pack: int, group: int, supply_a: float|null, group_v: float, pack_a: float, ambient_c: float, second: string} */
    public function said(): array
    {
        $in = $this->validated();

        return [
            'pack' => (int) $in['pack'],
            'group' => (int) $in['group'],
            'supply_a' => isset($in['supply_a']) ? (float) $in['supply_a'] : null,
            'group_v' => (float) $in['group_v'],
            'pack_a' => (float) $in['pack_a'],
            'ambient_c' => (float) $in['ambient_c'],
            'second' => (string) ($in['second'] ?? ''),
        ];
    }
}
