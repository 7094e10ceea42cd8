<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\KeepCells;
use App\Actions\Refused;
use App\Http\Requests\CellBody;
use App\Http\Requests\CellHoldBody;
use App\Http\Requests\CellsBody;
use App\Http\Requests\GradeBody;
use App\Http\Views\CellView;
use App\Http\Views\LogView;
use App\Models\Cell;
use App\Models\CellModel;
use App\Models\TestLog;
use Heartwood\Core\Cell\CellHold;
use Heartwood\Core\Cell\DrawerCell;
use Heartwood\Core\Cell\GradeRules;
use Heartwood\Core\Cell\Substitute;
use Heartwood\Core\Pack\Chemistry;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\DB;

/** Cells of the drawer: taken in, known better, graded, replaced. */
final class CellController extends Controller
{
    public function index(Request $request): JsonResponse
    {
        return $this->drawer($request);
    }

    public function store(CellsBody $request, KeepCells $keep): JsonResponse
    {
        $in = $request->validated();
        // A line without any entry is a cell of which nothing is known yet.
        $cells = array_map(
            fn(int|string $k): array => array_filter($in['cells'][$k] ?? [], fn(mixed $v): bool => $v !== null),
            array_keys((array) $request->input('cells')),
        );
        $keep->tray(
            $this->person(),
            array_filter($in['lot'], fn(mixed $v): bool => $v !== null),
            $in['model'],
            $in['chemistry'],
            (float) $in['rated_ah'],
            $cells,
        );

        return $this->drawer($request, 201);
    }

    public function update(CellBody $request, Cell $cell, KeepCells $keep): JsonResponse
    {
        $keep->change($this->person(), $cell, $request->validated(), $this->version($request));

        return $this->drawer($request);
    }

    public function show(Cell $cell): JsonResponse
    {
        $events = DB::table('cell_events')
            ->join('people', 'people.id', '=', 'cell_events.person_id')
            ->where('cell_id', $cell->id)
            ->orderByDesc('cell_events.id')
            ->limit(100)
            ->get(['cell_events.kind', 'cell_events.data', 'cell_events.at', 'people.name']);

        return new JsonResponse([
            'cell' => CellView::row($cell->load('lot')),
            'history' => $events
                ->map(
                    fn(object $e): array => [
                        'kind' => $e->kind,
                        'data' => json_decode((string) $e->data),
                        'at' => $e->at,
                        'by' => $e->name,
                    ],
                )
                ->all(),
            'logs' => TestLog::query()->where('cell_id', $cell->id)->orderByDesc('id')->get()->map(LogView::row(...))->all(),
        ]);
    }

    /** Two rest voltages days apart; what can be told goes to the cell, what cannot is only said. */
    public function hold(CellHoldBody $request, Cell $cell, KeepCells $keep): JsonResponse
    {
        $in = $request->validated();
        $hold = CellHold::of(
            Chemistry::from($cell->chemistry),
            (float) $in['before_v'],
            (float) $in['after_v'],
            (float) $in['days'],
            (float) ($in['resolution_v'] ?? 0.001),
        );
        if ($hold->outcome !== 'cannot-tell-yet') {
            $keep->change(
                $this->person(),
                $cell,
                ['leak_percent_month' => round($hold->percentMonth, 2), 'rest_v' => (float) $in['after_v']],
                '*',
            );
        }

        return new JsonResponse([
            'outcome' => $hold->outcome,
            'percent_month' => round($hold->percentMonth, 2),
            'sigma' => round($hold->sigma, 2),
            'text' => $hold->text,
        ]);
    }

    public function grade(GradeBody $request, KeepCells $keep): JsonResponse
    {
        $in = $request->validated();

        return new JsonResponse(
            $keep->grade(
                $this->person(),
                array_values($in['ids']),
                new GradeRules((float) $in['rated_ah'], (float) ($in['least_share'] ?? 0.8), (float) ($in['most_over_lot'] ?? 1.5)),
            ),
        );
    }

    public function substitutes(Cell $cell): JsonResponse
    {
        $specs = CellModel::specs($cell->workshop_id);
        $known = fn(Cell $c): ?DrawerCell => $c->forRules($c->lot->name, $specs[$c->model] ?? []);
        $group =
            $cell->job_id === null
                ? []
                : array_values(
                    array_filter(
                        array_map(
                            $known,
                            Cell::query()
                                ->where('job_id', $cell->job_id)
                                ->where('group_no', $cell->group_no)
                                ->where('id', '!=', $cell->id)
                                ->with('lot')
                                ->get()
                                ->all(),
                        ),
                    ),
                );
        // A cell that nobody tested is replaced by what its group is.
        $lost =
            $known($cell->load('lot')) ??
            ($group === []
                ? throw new Refused('untested', 'This cell has no capacity and resistance on record, and no group to compare with.')
                : new DrawerCell($cell->code, 0.0, 0.0, chemistry: $cell->chemistry));
        $drawer = array_values(
            array_filter(
                array_map(
                    $known,
                    Cell::query()
                        ->where('workshop_id', $cell->workshop_id)
                        ->whereIn('state', ['accepted', 'spare'])
                        ->where('id', '!=', $cell->id)
                        ->whereRelation('lot', 'state', 'taken')
                        ->with('lot')
                        ->limit(2000)
                        ->get()
                        ->all(),
                ),
            ),
        );

        return new JsonResponse([
            'substitutes' => array_map(
                fn(array $f): array => [
                    'code' => $f['cell']->id,
                    'capacity_ah' => $f['cell']->capacityAh,
                    'mohm' => $f['cell']->mohm,
                    'fits' => $f['fits'],
                    'why' => $f['why'],
                ],
                array_slice(Substitute::find($drawer, $group, $lost), 0, 20),
            ),
        ]);
    }

    private function drawer(Request $request, int $status = 200): JsonResponse
    {
        $term = trim($request->string('q')->toString());

        return new JsonResponse(CellView::drawer($this->person()->workshop_id, $request->string('state')->toString(), $term), $status);
    }
}
