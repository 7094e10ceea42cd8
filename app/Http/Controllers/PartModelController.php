<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\KeepPartModel;
use App\Contract\PackInput;
use App\Http\Requests\PartModelBody;
use App\Models\PartModel;
use Illuminate\Http\JsonResponse;

/** Devices, boards and chargers that are kept and offered again. */
final class PartModelController extends Controller
{
    public function store(PartModelBody $request, KeepPartModel $keep): JsonResponse
    {
        $in = $request->validated();
        // The record's own schema says what may be said of the part; of the pack around it nothing is known here.
        PackInput::check(['chemistry' => 'nmc', 'series' => 1, PartModel::PARTS[$in['kind']] => $in['spec']], [], []);
        $keep->handle($this->person(), $in['kind'], trim($in['name']), $in['spec']);

        return new JsonResponse(['part_models' => self::all($this->person()->workshop_id)], 201);
    }

    /** @return list<array{id: int, kind: string, name: string, spec: object}> */
    public static function all(int $workshop): array
    {
        return array_values(
            PartModel::query()
                ->where('workshop_id', $workshop)
                ->orderBy('kind')
                ->orderBy('name')
                ->get()
                ->map(fn(PartModel $m): array => ['id' => $m->id, 'kind' => $m->kind, 'name' => $m->name, 'spec' => (object) $m->spec])
                ->all(),
        );
    }
}
