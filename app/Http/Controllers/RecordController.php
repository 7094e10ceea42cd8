<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\BuildRecord;
use App\Actions\EventKind;
use App\Actions\ImportRecord;
use App\Contract\PackInput;
use App\Http\Requests\ImportBody;
use App\Http\Requests\LabelBody;
use App\Http\Views\JobRow;
use App\Http\Views\JobView;
use App\Models\Event;
use App\Models\Job;
use App\Models\Photo;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use App\Support\ReportPdf;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\Identity;
use Heartwood\Core\Pack\LabelCheck;
use Heartwood\Core\Pack\SeriesGuess;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Response;

/** The job record in and out, the report as PDF, and label checks while one types. */
final class RecordController extends Controller
{
    public function export(Job $job): Response
    {
        SecurityLog::add(SecurityEvent::Exported, $this->person(), null, ['what' => 'record', 'job' => $job->number]);
        $record = BuildRecord::of($job);
        if ($job->workshop_notes !== null) {
            $record['workshop'] = json_decode((string) $job->workshop_notes);
        }
        $truth = Event::query()->where('job_id', $job->id)->where('kind', EventKind::Closed)->latest('id')->first()?->data['truth'] ?? null;
        if ($truth !== null) {
            $record['truth'] = $truth;
        }
        $record['inspection'] = (object) ($record['inspection'] ?? []);

        return new Response((string) json_encode($record, JSON_PRETTY_PRINT | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES), 200, [
            'Content-Type' => 'application/json',
            'Content-Disposition' => "attachment; filename=\"heartwood-job-{$job->number}.json\"",
        ]);
    }

    public function import(ImportBody $request, ImportRecord $import): JsonResponse
    {
        $data = $request->validated();

        return new JsonResponse(JobRow::of($import->handle($this->person(), $data['record'], $data['customer'])->refresh()), 201);
    }

    public function pdf(Job $job): Response
    {
        $view = JobView::of($job, $this->person());
        $chosen = Photo::query()->where('job_id', $job->id)->where('removed', false)->where('on_report', true)->orderBy('taken_at')->get();

        return new Response(ReportPdf::render($view, $this->person()->workshop->name, $chosen), 200, [
            'Content-Type' => 'application/pdf',
            'Content-Disposition' => "inline; filename=\"heartwood-report-{$job->number}.pdf\"",
        ]);
    }

    /** Computes only: nothing is written. */
    public function labelCheck(LabelBody $request): JsonResponse
    {
        $data = $request->validated();
        // Half-typed: what is not a number or a word yet counts as not there.
        $pack = new Fields($data['pack']);
        $label = $pack->object('label');
        $volts = $label->float('full_v') ?? ($label->float('nominal_v') ?? 0.0);
        $chemistry = Chemistry::tryFrom($pack->string('chemistry') ?? '');
        $guesses = Identity::guess($volts, $chemistry === null ? null : [$chemistry], 6);
        $complete = $chemistry !== null && ($pack->int('series') ?? 0) >= 1;
        if ($complete) {
            PackInput::check($data['pack'], [], []);
        }

        return new JsonResponse([
            'mismatches' => $complete
                ? LabelCheck::mismatches(
                    PackSpec::from(new Fields($data['pack'])),
                    isset($data['cells_counted']) ? (int) $data['cells_counted'] : null,
                )
                : [],
            'series' => array_map(fn(SeriesGuess $g): array => $g->toArray(), $guesses),
        ]);
    }
}
