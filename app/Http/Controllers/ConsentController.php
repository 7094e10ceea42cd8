<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\TakeConsent;
use App\Http\Requests\ConsentBody;
use App\Http\Views\ConsentView;
use App\Models\Job;
use Illuminate\Http\JsonResponse;

/** What a customer agreed to. */
final class ConsentController extends Controller
{
    public function index(Job $job): JsonResponse
    {
        return new JsonResponse(ConsentView::of($job));
    }

    public function store(ConsentBody $request, Job $job, TakeConsent $take): JsonResponse
    {
        $take->handle($this->person(), $job, $request->validated());

        return new JsonResponse(ConsentView::of($job), 201);
    }
}
