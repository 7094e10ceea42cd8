<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Heartwood\Core\Drift\Sign;

/** Dated readings of a pack in service, each under the id that it was given where it was read. */
final class ServiceReadingsBody extends Body
{
    /** Readings that come at once, at most. */
    public const MOST = 200;

    /** @return array<string, mixed> */
    public function rules(): array
    {
        $volts = 'nullable|numeric|between:-10,10';

        return [
            'readings' => 'required|array|min:1|max:' . self::MOST,
            'readings.*.id' => 'required|uuid|distinct',
            'readings.*.at' => 'required|date',
            'readings.*.condition' => 'required|in:rest,full,charge,discharge',
            'readings.*.source' => 'nullable|in:bench,board,import',
            'readings.*.soc' => 'nullable|numeric|between:0,1',
            'readings.*.groups_v' => 'nullable|array|max:200',
            'readings.*.groups_v.*' => $volts,
            'readings.*.highest_v' => $volts,
            'readings.*.lowest_v' => $volts,
            'readings.*.halves_v' => 'nullable|array|size:2',
            'readings.*.halves_v.*' => 'required|numeric|between:0,1000',
            'readings.*.topped_up' => 'nullable|boolean',
            'readings.*.pack_v' => 'nullable|numeric|between:0,1000',
            'readings.*.resolution_v' => 'nullable|numeric|between:0.00001,1',
            'readings.*.note' => 'nullable|string|max:400',
            'readings.*.signs' => 'nullable|array',
            ...array_combine(
                array_map(fn(Sign $s): string => "readings.*.signs.{$s->value}", Sign::cases()),
                array_map(fn(Sign $s): string => 'nullable|boolean', Sign::cases()),
            ),
        ];
    }

    /** @return list<array<string, mixed>> */
    public function readings(): array
    {
        return array_values((array) $this->validated()['readings']);
    }
}
