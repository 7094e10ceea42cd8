<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\Refused;
use App\Http\Requests\QuoteBody;
use App\Models\Job;
use App\Models\Verdict;
use App\Read\Plans;
use App\Read\Quotes;
use App\Support\ReportPdf;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Response;

/** What a customer is told that it will cost, on the screen and on paper. */
final class QuoteController extends Controller
{
    public function show(QuoteBody $request, Job $job): JsonResponse
    {
        return new JsonResponse(Quotes::of($job, ...self::asked($request)));
    }

    public function pdf(QuoteBody $request, Job $job): Response
    {
        return new Response(
            ReportPdf::view('quote', [
                'job' => $job,
                'workshop' => $this->person()->workshop->name,
                'quote' => Quotes::of($job, ...self::asked($request)),
            ]),
            200,
            ['Content-Type' => 'application/pdf', 'Content-Disposition' => "inline; filename=\"heartwood-quote-{$job->number}.pdf\""],
        );
    }

    /** What is planned of the latest verdict, before it is decided: one way, or several as one. */
    public function plan(QuoteBody $request, Job $job): JsonResponse
    {
        $verdict = Verdict::query()->where('job_id', $job->id)->latest('id')->first();
        if ($verdict === null) {
            throw new Refused('no-verdict', 'Nothing was judged yet: a plan follows from the verdict.');
        }
        [$action, $with] = self::asked($request);

        return new JsonResponse(Plans::of($job, $verdict, [(string) $action, ...$with]));
    }

    /** @return array{string|null, list<string>} the way that is asked for, and what is done with it */
    private static function asked(QuoteBody $request): array
    {
        $in = $request->validated();

        return [$in['action'] ?? null, array_values(array_filter(explode(',', (string) ($in['with'] ?? ''))))];
    }
}
