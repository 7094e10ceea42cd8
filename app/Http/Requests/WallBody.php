<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Carbon\CarbonImmutable;
use Heartwood\Core\Fleet\PastedWall;

/** A wall that was read at one time: a row for each pack, its groups from B-. */
final class WallBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        $most = PastedWall::MOST;
        $value = $this->input('what') === 'ah' ? 'nullable|numeric|between:0,2000' : 'nullable|numeric|between:-10,10';

        return [
            'what' => 'required|in:volts,ah',
            'at' => 'required|date',
            'condition' => 'required|in:rest,full,charge,discharge',
            'soc' => 'nullable|numeric|between:0,1',
            'pack' => 'nullable|array',
            'rows' => "required|array|min:1|max:$most",
            'rows.*.name' => 'required|string|max:160',
            'rows.*.soc' => 'nullable|numeric|between:0,1',
            'rows.*.resolution_v' => 'nullable|numeric|between:0.00001,1',
            'rows.*.values' => "required|array|min:1|max:$most",
            'rows.*.values.*' => $value,
        ];
    }

    /**
     * @return array{what: 'volts'|'ah', at: string, condition: string, soc: float|null, pack: array<string, mixed>|null,
     *     rows: list<array{name: string, soc: float|null, resolution_v: float|null, values: list<float|null>}>}
     */
    public function wall(): array
    {
        $in = $this->validated();
        $number = fn(mixed $v): ?float => $v === null ? null : (float) $v;

        return [
            'what' => $in['what'] === 'ah' ? 'ah' : 'volts',
            'at' => CarbonImmutable::parse((string) $in['at'])->utc()->toIso8601ZuluString('microsecond'),
            'condition' => (string) $in['condition'],
            'soc' => $number($in['soc'] ?? null),
            'pack' => $in['pack'] ?? null,
            'rows' => array_map(
                fn(array $r): array => [
                    'name' => (string) $r['name'],
                    'soc' => $number($r['soc'] ?? null),
                    'resolution_v' => $number($r['resolution_v'] ?? null),
                    'values' => array_map($number, array_values((array) $r['values'])),
                ],
                array_values((array) $in['rows']),
            ),
        ];
    }
}
