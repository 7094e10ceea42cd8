<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Http\Requests\QuoteBody;
use App\Models\Job;
use App\Read\Quotes;
use App\Support\ReportPdf;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Response;

/** What a customer is told that it will cost, on the screen and on paper. */
final class QuoteController extends Controller
{
    public function show(QuoteBody $request, Job $job): JsonResponse
    {
        return new JsonResponse(Quotes::of($job, $request->validated()['action'] ?? null));
    }

    public function pdf(QuoteBody $request, Job $job): Response
    {
        return new Response(
            ReportPdf::view('quote', [
                'job' => $job,
                'workshop' => $this->person()->workshop->name,
                'quote' => Quotes::of($job, $request->validated()['action'] ?? null),
            ]),
            200,
            ['Content-Type' => 'application/pdf', 'Content-Disposition' => "inline; filename=\"heartwood-quote-{$job->number}.pdf\""],
        );
    }
}
