<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\GuideRun;
use App\Actions\Refused;
use App\Http\Requests\GuidedBody;
use App\Http\Requests\GuidedEndBody;
use App\Models\GuidedRun;
use App\Models\Job;
use App\Read\GuidedRuns;
use App\Support\ReportPdf;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Response;

/** Guided runs: what can be begun, what is under way, what they came to. Their steps come through the outbox. */
final class GuidedController extends Controller
{
    public function index(Job $job): JsonResponse
    {
        return new JsonResponse(GuidedRuns::ofJob($job));
    }

    public function show(GuidedRun $guidedRun): JsonResponse
    {
        return new JsonResponse(GuidedRuns::of($guidedRun));
    }

    public function store(GuidedBody $request, Job $job, GuideRun $guide): JsonResponse
    {
        $in = $request->validated();

        return new JsonResponse(GuidedRuns::of($guide->start($this->person(), $job, $in['code'], $in['where'] ?? null)), 201);
    }

    public function end(GuidedEndBody $request, GuidedRun $guidedRun, GuideRun $guide): JsonResponse
    {
        $reason = trim((string) ($request->validated()['leave'] ?? ''));
        $run = $reason === '' ? $guide->keep($this->person(), $guidedRun) : $guide->leave($this->person(), $guidedRun, $reason);

        return new JsonResponse(GuidedRuns::of($run));
    }

    /** A charger trial, as the owner of the charger reads it. */
    public function pdf(GuidedRun $guidedRun): Response
    {
        $run = GuidedRuns::of($guidedRun);
        if ($run['trial'] === null) {
            throw new Refused('no-sheet', 'There is a sheet for the customer of a charger trial only.', 404);
        }

        return new Response(
            ReportPdf::view('trial', ['job' => $guidedRun->job, 'workshop' => $this->person()->workshop->name, 'run' => $run]),
            200,
            [
                'Content-Type' => 'application/pdf',
                'Content-Disposition' => "inline; filename=\"heartwood-charger-trial-{$guidedRun->job->number}.pdf\"",
            ],
        );
    }
}
