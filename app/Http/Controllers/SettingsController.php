<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\KeepSettings;
use App\Actions\Version;
use App\Http\Requests\CellModelBody;
use App\Http\Requests\PriceBody;
use App\Http\Requests\SettingsBody;
use App\Models\CellModel;
use App\Models\PackModel;
use App\Models\Workshop;
use App\Support\Backups;
use Heartwood\Core\Shop\Setting;
use Heartwood\Core\Shop\Settings;
use Illuminate\Http\JsonResponse;

/** The shop's own facts and its price list. */
final class SettingsController extends Controller
{
    public function show(): JsonResponse
    {
        return $this->view($this->person()->workshop);
    }

    /** The last good backup of this server, and whether a later one failed. */
    public function backup(): JsonResponse
    {
        return new JsonResponse(Backups::said());
    }

    public function update(SettingsBody $request, KeepSettings $keep): JsonResponse
    {
        $in = $request->validated();

        return $this->view(
            $keep->handle($this->person(), isset($in['name']) ? trim($in['name']) : null, $in['values'] ?? [], $this->version($request)),
        );
    }

    public function prices(): JsonResponse
    {
        $workshop = $this->person()->workshop_id;

        return new JsonResponse([
            'cells' => CellModel::query()
                ->where('workshop_id', $workshop)
                ->orderBy('name')
                ->get()
                ->map(
                    fn(CellModel $m): array => [
                        'id' => $m->id,
                        'name' => $m->name,
                        'about' => trim(
                            sprintf(
                                '%s %s %s',
                                $m->chemistry,
                                $m->spec['format'] ?? '',
                                isset($m->spec['capacity_ah']) ? $m->spec['capacity_ah'] . ' Ah' : '',
                            ),
                        ),
                        // A model that came in with its cells has none until somebody says it.
                        'price_cents' => $m->price_cents > 0 ? $m->price_cents : null,
                        'version' => Version::tag($m),
                        'chemistry' => $m->chemistry,
                        'spec' => (object) ($m->spec ?? []),
                    ],
                )
                ->all(),
            'packs' => PackModel::query()
                ->where('workshop_id', $workshop)
                ->orderBy('name')
                ->get()
                ->map(
                    fn(PackModel $m): array => [
                        'id' => $m->id,
                        'name' => $m->name,
                        'about' => trim(
                            sprintf(
                                '%s %dS%s',
                                $m->spec['chemistry'] ?? '',
                                $m->spec['series'] ?? 0,
                                isset($m->spec['parallel']) ? $m->spec['parallel'] . 'P' : '',
                            ),
                        ),
                        'price_cents' => $m->price_cents,
                        'version' => Version::tag($m),
                    ],
                )
                ->all(),
        ]);
    }

    public function cellPrice(PriceBody $request, CellModel $cellModel, KeepSettings $keep): JsonResponse
    {
        $keep->price($this->person(), $cellModel, (int) $request->validated('price_cents'), $this->version($request));

        return $this->prices();
    }

    public function addModel(CellModelBody $request, KeepSettings $keep): JsonResponse
    {
        $keep->model($this->person(), null, $request->validated(), null);

        return $this->prices();
    }

    public function model(CellModelBody $request, CellModel $cellModel, KeepSettings $keep): JsonResponse
    {
        $keep->model($this->person(), $cellModel, $request->validated(), $this->version($request));

        return $this->prices();
    }

    public function packPrice(PriceBody $request, PackModel $packModel, KeepSettings $keep): JsonResponse
    {
        $cents = $request->validated('price_cents');
        $keep->price($this->person(), $packModel, $cents === null ? null : (int) $cents, $this->version($request));

        return $this->prices();
    }

    private function view(Workshop $workshop): JsonResponse
    {
        $said = $workshop->said();

        return (new JsonResponse([
            'version' => Version::tag($workshop),
            'name' => $workshop->name,
            'demo' => $workshop->demo,
            'groups' => Settings::GROUPS,
            'settings' => array_values(
                array_map(
                    fn(Setting $s): array => $s->toArray() + ['value' => $said->get($s->key), 'differs' => $said->differs($s->key)],
                    Settings::all(),
                ),
            ),
        ]))->header('ETag', Version::tag($workshop));
    }
}
