<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\KeepCells;
use App\Actions\Refused;
use App\Http\Requests\CellFileBody;
use App\Http\Views\CellView;
use App\Models\Cell;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use App\Support\Csv;
use Heartwood\Core\Cell\TrayFile;
use Illuminate\Http\JsonResponse;
use Symfony\Component\HttpFoundation\Response;

/** The drawer as a sheet, out and in again. */
final class CellFileController extends Controller
{
    /** Rows that a refusal names. */
    private const TOLD = 30;

    public function export(): Response
    {
        SecurityLog::add(SecurityEvent::Exported, $this->person(), null, ['what' => 'cells']);
        $rows = Cell::query()
            ->where('workshop_id', $this->person()->workshop_id)
            ->with('lot')
            ->orderBy('code')
            ->lazy(500)
            ->map(
                fn(Cell $c): array => [
                    $c->code,
                    $c->lot->name,
                    $c->model,
                    $c->chemistry,
                    $c->rated_ah,
                    $c->state,
                    $c->reason,
                    $c->capacity_ah,
                    $c->mohm,
                    $c->rest_v,
                    $c->leak_percent_month,
                    $c->damaged ? 'yes' : 'no',
                    $c->origin,
                ],
            );
        $text = Csv::of(
            [
                'code',
                'lot',
                'model',
                'chemistry',
                'rated_ah',
                'state',
                'reason',
                'capacity_ah',
                'mohm',
                'rest_v',
                'leak_percent_month',
                'damaged',
                'origin',
            ],
            $rows,
        );

        return new Response($text, 200, [
            'Content-Type' => 'text/csv; charset=utf-8',
            'Content-Disposition' => 'attachment; filename="cells.csv"',
        ]);
    }

    /** The export's own columns back in; every row is checked before any is taken. */
    public function import(CellFileBody $request, KeepCells $keep): JsonResponse
    {
        $rows = Csv::rows((string) $request->validated()['csv']);
        $missing = TrayFile::missing($rows['names']);
        if ($missing !== []) {
            throw new Refused('columns', "The column {$missing[0]} is missing in the first line.", 422, [
                'csv' => "Add a column {$missing[0]}.",
            ]);
        }
        $file = TrayFile::of($rows['rows']);
        $errors = $rows['errors'] + $file->errors;
        if ($errors !== []) {
            throw new Refused('rows', 'Nothing was taken: some rows cannot be read.', 422, array_slice($errors, 0, self::TOLD));
        }
        $keep->trays($this->person(), $file->trays);

        return new JsonResponse(CellView::drawer($this->person()->workshop_id), 201);
    }
}
