<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\ImportLog;
use App\Actions\Refused;
use App\Actions\SayLogFull;
use App\Http\Requests\LogBody;
use App\Http\Requests\LogHeadBody;
use App\Http\Requests\StretchBody;
use App\Http\Views\LogView;
use App\Models\Job;
use App\Models\TestLog;
use App\Read\Capacities;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use Heartwood\Core\Log\Columns;
use Heartwood\Core\Log\LogProblem;
use Heartwood\Core\Log\Mapping;
use Heartwood\Core\Log\SeriesChunk;
use Heartwood\Core\Log\Stretch;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\UploadedFile;
use Illuminate\Support\Facades\DB;
use Symfony\Component\HttpFoundation\Response;

/** Logs of testers: what their head looks like, read in, drawn, given out. */
final class LogController extends Controller
{
    /** What the head of a file looks like: the guess, and the first rows as they are. */
    public function preview(LogHeadBody $request): JsonResponse
    {
        $in = $request->validated();
        try {
            $said = ImportLog::remembered($this->person(), (string) ($in['tester'] ?? ''));
            $map = Mapping::guess($in['head'])->with($said);
        } catch (LogProblem $e) {
            throw new Refused('log', $e->getMessage(), 422, ['file' => $e->getMessage()]);
        }
        return new JsonResponse([
            'mapping' => ($said === [] ? [] : ['notes' => ["as {$in['tester']} was read before", ...$map->notes]]) + $map->toArray(),
            'lines' => array_slice(preg_split('/\R/', mb_scrub($in['head'])) ?: [], 0, $map->header + 4),
            'times' => Columns::timeChoices(),
            'testers' => DB::table('log_mappings')
                ->where('workshop_id', $this->person()->workshop_id)
                ->orderBy('tester')
                ->pluck('tester')
                ->all(),
        ]);
    }

    public function store(LogBody $request, ImportLog $import): JsonResponse
    {
        $in = $request->validated();
        /** @var UploadedFile $file */
        $file = $request->file('file');
        [$log, $known] = $import->handle(
            $this->person(),
            (string) $file->getRealPath(),
            $file->getClientOriginalName(),
            (array) json_decode((string) ($in['mapping'] ?? '{}'), true),
            array_filter($in, fn(mixed $v): bool => $v !== null),
        );

        return new JsonResponse(['log' => LogView::row($log), 'known' => $known, 'of' => LogView::of($log)], $known ? 200 : 201);
    }

    /** What the pack of a job gave, test after test, and the logs of this job. */
    public function ofJob(Job $job): JsonResponse
    {
        $of = Capacities::of($job);

        return new JsonResponse(['logs' => array_map(LogView::row(...), $of['logs'])] + $of);
    }

    /** It began full: the word of whoever is signed in. */
    public function full(TestLog $log, SayLogFull $say): JsonResponse
    {
        return new JsonResponse(LogView::row($say->handle($this->person(), $log)));
    }

    public function show(TestLog $log): JsonResponse
    {
        return new JsonResponse(LogView::row($log) + ['figures' => $log->figures, 'mapping' => $log->mapping]);
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
        $near = Stretch::near($rows, $points);
        $stretch = new Stretch();
        foreach ($query->get($near ? ['body', 'row_count'] : ['pyramid']) as $chunk) {
            $near
                ? $stretch->rows(SeriesChunk::unpack((string) $chunk->body, (int) $chunk->row_count))
                : $stretch->levels(SeriesChunk::levels((string) $chunk->pyramid));
        }

        return new JsonResponse($stretch->thinned($points) + ['rows' => $rows]);
    }

    /** The log in the open columns, as rows. */
    public function export(TestLog $log): Response
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
}
