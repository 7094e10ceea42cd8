<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\ImportLog;
use App\Actions\KeepCells;
use App\Actions\Refused;
use App\Actions\Version;
use App\Http\Requests\BuildBody;
use App\Http\Requests\CellBody;
use App\Http\Requests\CellFileBody;
use App\Http\Requests\CellHoldBody;
use App\Http\Requests\CellsBody;
use App\Http\Requests\DealBody;
use App\Http\Requests\GradeBody;
use App\Http\Requests\JoinCellsBody;
use App\Http\Requests\LogBody;
use App\Http\Requests\LogHeadBody;
use App\Http\Requests\StretchBody;
use App\Models\Cell;
use App\Models\Job;
use App\Models\Lot;
use App\Models\TestLog;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use App\Support\Csv;
use Heartwood\Core\Cell\CannotMatch;
use Heartwood\Core\Cell\CellHold;
use Heartwood\Core\Cell\Deal;
use Heartwood\Core\Cell\DrawerCell;
use Heartwood\Core\Cell\GradeRules;
use Heartwood\Core\Cell\JoinRule;
use Heartwood\Core\Cell\JoinSide;
use Heartwood\Core\Cell\Matcher;
use Heartwood\Core\Cell\Refill;
use Heartwood\Core\Cell\Substitute;
use Heartwood\Core\Log\LogProblem;
use Heartwood\Core\Log\Mapping;
use Heartwood\Core\Log\SampleOfLot;
use Heartwood\Core\Log\SeriesChunk;
use Heartwood\Core\Pack\Chemistry;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\DB;
use Symfony\Component\HttpFoundation\Response;

/** The drawer of cells, their logs, and deals. */
final class CellController extends Controller
{
    public function index(Request $request): JsonResponse
    {
        return $this->list($request);
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

        return $this->list($request, 201);
    }

    public function update(CellBody $request, Cell $cell, KeepCells $keep): JsonResponse
    {
        $keep->change($this->person(), $cell, $request->validated(), $request->header('If-Match'));

        return $this->list($request);
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
            'cell' => self::row($cell->load('lot')),
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
            'logs' => TestLog::query()->where('cell_id', $cell->id)->orderByDesc('id')->get()->map(self::logRow(...))->all(),
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
        $text = (string) $request->validated()['csv'];
        $lines = array_values(array_filter(preg_split('/\R/', trim($text)) ?: [], fn(string $l): bool => trim($l) !== ''));
        $names = array_map(fn(?string $n): string => strtolower(trim((string) $n)), str_getcsv($lines[0] ?? '', ',', '"', ''));
        $errors = $trays = [];
        foreach (['lot', 'model', 'chemistry', 'rated_ah'] as $must) {
            if (!in_array($must, $names, true)) {
                throw new Refused('columns', "The column $must is missing in the first line.", 422, ['csv' => "Add a column $must."]);
            }
        }
        foreach (array_slice($lines, 1) as $i => $line) {
            $row = array_combine(
                $names,
                array_pad(
                    array_map(
                        fn(?string $v): string => Csv::plain((string) $v),
                        array_slice(str_getcsv($line, ',', '"', ''), 0, count($names)),
                    ),
                    count($names),
                    '',
                ),
            );
            $clean = array_filter(
                ['code' => $row['code'] ?? '', 'origin' => $row['origin'] ?? 'new', 'damaged' => ($row['damaged'] ?? '') === 'yes'],
                fn(mixed $v): bool => $v !== '',
            );
            foreach (['capacity_ah', 'mohm', 'rest_v', 'leak_percent_month'] as $f) {
                if (($row[$f] ?? '') !== '') {
                    is_numeric($row[$f]) ? ($clean[$f] = (float) $row[$f]) : ($errors['row ' . ($i + 2)] = "$f is no number: {$row[$f]}");
                }
            }
            if (
                Chemistry::tryFrom((string) $row['chemistry']) === null ||
                !is_numeric($row['rated_ah']) ||
                trim((string) $row['lot']) === '' ||
                trim((string) $row['model']) === ''
            ) {
                $errors['row ' . ($i + 2)] = 'lot, model, chemistry and rated_ah must be filled';

                continue;
            }
            $trays[$row['lot'] . '|' . $row['model'] . '|' . $row['chemistry'] . '|' . $row['rated_ah']][] = $clean;
        }
        if ($errors !== []) {
            throw new Refused('rows', 'Nothing was taken: some rows cannot be read.', 422, array_slice($errors, 0, 30));
        }
        DB::transaction(function () use ($trays, $keep): void {
            foreach ($trays as $key => $cells) {
                [$lot, $model, $chemistry, $rated] = explode('|', $key);
                $keep->tray($this->person(), ['name' => $lot], $model, $chemistry, (float) $rated, $cells);
            }
        });

        return $this->list($request, 201);
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

    /** A deal of the accepted cells, by the rules; nothing is stored. An order given by hand is judged by the same figures. */
    public function deal(DealBody $request, Job $job): JsonResponse
    {
        $in = $request->validated();
        $cells = [];
        foreach (
            Cell::query()
                ->where('workshop_id', $job->workshop_id)
                ->whereIn('state', ['accepted', 'spare'])
                ->where('chemistry', $job->chemistry)
                ->with('lot')
                ->orderBy('code')
                ->limit(5000)
                ->get()
            as $c
        ) {
            $known = $c->forRules($c->lot->name);
            if ($known !== null) {
                $cells[$known->id] = $known;
            }
        }
        $parallel = (int) ($job->parallel ?? 1);
        try {
            if (isset($in['groups'])) {
                $groups = array_map(
                    fn(array $g): array => array_map(
                        fn(string $code): DrawerCell => $cells[$code] ??
                            throw new CannotMatch("Cell $code is not among the accepted ones."),
                        array_values($g),
                    ),
                    array_values($in['groups']),
                );
                $used = array_flip(array_merge(...array_values($in['groups'])));
                $sorted = array_map(fn(DrawerCell $c): float => $c->capacityAh, array_values($cells));
                rsort($sorted);
                $deal = new Deal(
                    $groups,
                    array_values(array_diff_key($cells, $used)),
                    array_sum(array_slice($sorted, 0, $job->series * $parallel)) / max(1, $job->series),
                    'by hand',
                );
            } elseif (($in['refill'] ?? []) !== []) {
                $deal = $this->refill($job, array_values($cells), array_map(intval(...), $in['refill']), (float) ($in['ratio'] ?? 1.3));
            } else {
                $deal = Matcher::deal(
                    array_values($cells),
                    $job->series,
                    $parallel,
                    (float) ($in['ratio'] ?? 1.3),
                    (int) ($in['seed'] ?? 1),
                    $in['school'] ?? 'equal',
                );
            }
        } catch (CannotMatch $e) {
            throw new Refused('cannot-match', $e->getMessage() . ($e->relaxation === null ? '' : " Nearest way: {$e->relaxation}."), 409);
        }
        $hand = Matcher::serpentine(array_values($cells), $job->series, $parallel);

        return new JsonResponse(
            $deal->toArray() + [
                'by_hand' => [
                    'smallest_ah' => round($hand->least(), 4),
                    'gap' => round($hand->gap, 6),
                    'conductance_spread' => round($hand->conductanceSpread, 5),
                    'worst_ratio' => round($hand->worstRatio, 3),
                ],
                'ten_more_ah' => round(Matcher::withTenMore(array_values($cells), $job->series, $parallel), 4),
                'accepted' => count($cells),
                'ratio' => (float) ($in['ratio'] ?? 1.3),
                'cells' => array_map(
                    fn(DrawerCell $c): array => ['id' => $c->id, 'capacity_ah' => $c->capacityAh, 'mohm' => $c->mohm],
                    array_values($cells),
                ),
            ],
        );
    }

    /**
     * Some groups anew, the others as they are in the job: each refilled to what the kept ones have.
     *
     * @param  list<DrawerCell>  $drawer
     * @param  list<int>  $refill
     */
    private function refill(Job $job, array $drawer, array $refill, float $ratio): Deal
    {
        $kept = array_fill(1, $job->series, []);
        foreach (Cell::query()->where('job_id', $job->id)->with('lot')->get() as $c) {
            $known = $c->forRules($c->lot->name);
            if ($known !== null && !in_array((int) $c->group_no, $refill, true)) {
                $kept[(int) $c->group_no][] = $known;
            }
        }
        $whole = array_filter($kept, fn(array $g): bool => count($g) === (int) $job->parallel);
        if ($whole === []) {
            throw new CannotMatch('No group of this job has its cells in the drawer: deal all groups first.');
        }
        $target =
            array_sum(array_map(fn(array $g): float => array_sum(array_map(fn(DrawerCell $c): float => $c->capacityAh, $g)), $whole)) /
            count($whole);
        $wanted = array_map(
            fn(array $g): array => ['ah' => 0.0, 'cells' => $g, 'missing' => (int) $job->parallel - count($g)],
            array_values($kept),
        );
        $fills = Refill::fill($drawer, $wanted, $target, $ratio);
        $groups = array_map(fn(array $w, array $f): array => [...$w['cells'], ...$f], $wanted, $fills);
        $used = array_flip(array_map(fn(DrawerCell $c): string => $c->id, array_merge(...$groups)));

        return new Deal(
            $groups,
            array_values(array_filter($drawer, fn(DrawerCell $c): bool => !isset($used[$c->id]))),
            $target,
            'refilled',
        );
    }

    /** Lots and what their tested cells tell of the whole: which of them disappoint, and whose they were. */
    public function lots(): JsonResponse
    {
        $rows = [];
        $cells = Cell::query()
            ->where('workshop_id', $this->person()->workshop_id)
            ->get(['lot_id', 'state', 'capacity_ah'])
            ->groupBy('lot_id');
        foreach (Lot::query()->where('workshop_id', $this->person()->workshop_id)->orderBy('name')->get() as $lot) {
            $mine = $cells[$lot->id] ?? collect();
            $values = array_values(array_map(floatval(...), $mine->pluck('capacity_ah')->filter()->all()));
            $sample = $values === [] ? null : SampleOfLot::of($values, count($mine));
            $rows[] = [
                'name' => $lot->name,
                'supplier' => $lot->supplier,
                'date_code' => $lot->date_code,
                'price_cents' => $lot->price_cents,
                'cells' => count($mine),
                'tested' => count($values),
                'rejected' => $mine->where('state', 'rejected')->count(),
                'mean_ah' => $sample === null ? null : round($sample['mean'], 4),
                'low_ah' => ($sample['low'] ?? null) === null ? null : round((float) $sample['low'], 4),
                'high_ah' => ($sample['high'] ?? null) === null ? null : round((float) $sample['high'], 4),
                'text' => $sample['text'] ?? 'none tested',
            ];
        }

        return new JsonResponse(['lots' => $rows]);
    }

    /** Two cells, groups or packs before they are put side by side. */
    public function join(JoinCellsBody $request, Job $job): JsonResponse
    {
        $in = $request->validated();
        $side = fn(array $s): JoinSide => new JoinSide(
            (float) $s['v'],
            (float) $s['mohm'] / 1000,
            (float) $s['ah'],
            (float) $s['max_charge_a'],
            Chemistry::from($s['chemistry'] ?? $job->chemistry),
        );

        return new JsonResponse(
            JoinRule::check($side($in['a']), $side($in['b']), $in['whole_pack'] ?? false ? $job->series : 1)->toArray(),
        );
    }

    public function build(BuildBody $request, Job $job, KeepCells $keep): JsonResponse
    {
        $in = $request->validated();
        $keep->build($this->person(), $job, array_values(array_map(array_values(...), $in['groups'])));

        return new JsonResponse(['kept' => true]);
    }

    public function substitutes(Cell $cell): JsonResponse
    {
        $lost =
            $cell->load('lot')->forRules($cell->lot->name) ??
            throw new Refused('untested', 'This cell has no capacity and resistance on record.');
        $known = fn(Cell $c): ?DrawerCell => $c->forRules($c->lot->name);
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
        $drawer = array_values(
            array_filter(
                array_map(
                    $known,
                    Cell::query()
                        ->where('workshop_id', $cell->workshop_id)
                        ->whereIn('state', ['accepted', 'spare'])
                        ->where('id', '!=', $cell->id)
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

    /** What the head of a file looks like: the guess, and the first rows as they are. */
    public function previewLog(LogHeadBody $request): JsonResponse
    {
        $in = $request->validated();
        try {
            $map = Mapping::guess($in['head']);
        } catch (LogProblem $e) {
            throw new Refused('log', $e->getMessage(), 422, ['file' => $e->getMessage()]);
        }
        $known =
            ($in['tester'] ?? '') === ''
                ? null
                : DB::table('log_mappings')
                    ->where('workshop_id', $this->person()->workshop_id)
                    ->where('tester', $in['tester'])
                    ->value('mapping');

        return new JsonResponse([
            'mapping' =>
                $known === null
                    ? $map->toArray()
                    : ['notes' => ["as {$in['tester']} was read before"]] + (array) json_decode((string) $known, true),
            'lines' => array_slice(preg_split('/\R/', mb_scrub($in['head'])) ?: [], 0, $map->header + 4),
            'testers' => DB::table('log_mappings')
                ->where('workshop_id', $this->person()->workshop_id)
                ->orderBy('tester')
                ->pluck('tester')
                ->all(),
        ]);
    }

    public function importLog(LogBody $request, ImportLog $import): JsonResponse
    {
        $in = $request->validated();
        $file = $request->file('file');
        [$log, $known] = $import->handle(
            $this->person(),
            (string) $file->getRealPath(),
            $file->getClientOriginalName(),
            (array) json_decode((string) ($in['mapping'] ?? '{}'), true),
            array_filter($in, fn(mixed $v): bool => $v !== null),
        );

        return new JsonResponse(['log' => self::logRow($log), 'known' => $known], $known ? 200 : 201);
    }

    public function log(TestLog $log): JsonResponse
    {
        return new JsonResponse(self::logRow($log) + ['figures' => $log->figures, 'mapping' => $log->mapping]);
    }

    /** A log between two times in at most so many points: from the pyramid when far, from the rows when near. */
    public function series(StretchBody $request, TestLog $log): JsonResponse
    {
        $in = $request->validated();
        $points = (int) ($in['points'] ?? 800);
        $query = DB::table('series_chunks')->where('log_id', $log->id)->orderBy('position');
        if (isset($in['from'], $in['to'])) {
            $query->where('t_to', '>=', $in['from'])->where('t_from', '<=', $in['to']);
        }
        $rows = (int) (clone $query)->sum('row_count');
        $near = $rows <= max($points, 8192);
        $t = $low = $high = $aLow = $aHigh = [];
        foreach ($query->get($near ? ['body', 'row_count'] : ['pyramid']) as $chunk) {
            if ($near) {
                $x = SeriesChunk::unpack((string) $chunk->body, (int) $chunk->row_count);
                array_push($t, ...$x['t']);
                array_push($low, ...$x['v']);
                array_push($high, ...$x['v']);
                array_push($aLow, ...$x['a']);
                array_push($aHigh, ...$x['a']);
            } else {
                foreach (SeriesChunk::levels((string) $chunk->pyramid) as $l) {
                    $t[] = $l['t'];
                    $low[] = $l['v_min'];
                    $high[] = $l['v_max'];
                    $aLow[] = $l['a_min'];
                    $aHigh[] = $l['a_max'];
                }
            }
        }
        $every = max(1, (int) ceil(count($t) / $points));
        $out = ['t' => [], 'v_min' => [], 'v_max' => [], 'a_min' => [], 'a_max' => []];
        for ($k = 0, $n = count($t); $k < $n; $k += $every) {
            $out['t'][] = round($t[$k], 2);
            $out['v_min'][] = round(min(array_slice($low, $k, $every)), 4);
            $out['v_max'][] = round(max(array_slice($high, $k, $every)), 4);
            $out['a_min'][] = round(min(array_slice($aLow, $k, $every)), 4);
            $out['a_max'][] = round(max(array_slice($aHigh, $k, $every)), 4);
        }

        return new JsonResponse($out + ['rows' => $rows]);
    }

    /** The log in the open columns, as rows. */
    public function exportLog(TestLog $log): Response
    {
        SecurityLog::add(SecurityEvent::Exported, $this->person(), null, ['what' => 'log', 'log' => $log->id]);
        $out = "Test Time / s,Voltage / V,Current / A\n";
        foreach (
            DB::table('series_chunks')
                ->where('log_id', $log->id)
                ->orderBy('position')
                ->get(['body', 'row_count'])
            as $chunk
        ) {
            $x = SeriesChunk::unpack((string) $chunk->body, (int) $chunk->row_count);
            foreach ($x['t'] as $k => $t) {
                $out .= sprintf("%.3f,%.5f,%.5f\n", $t, $x['v'][$k], $x['a'][$k]);
            }
        }

        return new Response($out, 200, [
            'Content-Type' => 'text/csv; charset=utf-8',
            'Content-Disposition' => 'attachment; filename="log-' . $log->id . '.csv"',
        ]);
    }

    private function list(Request $request, int $status = 200): JsonResponse
    {
        $q = Cell::query()->where('workshop_id', $this->person()->workshop_id)->with('lot');
        if (in_array($request->query('state'), Cell::STATES, true)) {
            $q->where('state', $request->query('state'));
        }
        $term = trim((string) $request->query('q', ''));
        if ($term !== '') {
            $q->where(fn($w) => $w->where('code', 'like', "%$term%")->orWhere('model', 'like', "%$term%"));
        }
        $states = Cell::query()
            ->where('workshop_id', $this->person()->workshop_id)
            ->groupBy('state')
            ->selectRaw('state, count(*) as n')
            ->pluck('n', 'state');

        return new JsonResponse(
            ['cells' => $q->orderBy('code')->limit(600)->get()->map(self::row(...))->all(), 'states' => (object) $states->all()],
            $status,
        );
    }

    /** @return array<string, mixed> */
    private static function row(Cell $c): array
    {
        return [
            'id' => $c->id,
            'version' => Version::tag($c),
            'code' => $c->code,
            'lot' => $c->lot->name,
            'model' => $c->model,
            'chemistry' => $c->chemistry,
            'rated_ah' => $c->rated_ah,
            'state' => $c->state,
            'reason' => $c->reason,
            'origin' => $c->origin,
            'capacity_ah' => $c->capacity_ah,
            'mohm' => $c->mohm,
            'rest_v' => $c->rest_v,
            'leak_percent_month' => $c->leak_percent_month,
            'damaged' => $c->damaged,
            'job_id' => $c->job_id,
            'group_no' => $c->group_no,
        ];
    }

    /** @return array<string, mixed> */
    private static function logRow(TestLog $l): array
    {
        return [
            'id' => $l->id,
            'name' => $l->name,
            'bytes' => $l->bytes,
            'tester' => $l->tester,
            'cell_id' => $l->cell_id,
            'job_id' => $l->job_id,
            'group_no' => $l->group_no,
            'at' => $l->imported_at->toIso8601ZuluString(),
            'capacity' => $l->figures['capacity'] ?? null,
            'rows' => $l->figures['rows'] ?? 0,
            'skipped' => $l->figures['skipped'] ?? 0,
            'errors' => $l->figures['errors'] ?? [],
        ];
    }
}
