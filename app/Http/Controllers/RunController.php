<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\SayToRun;
use App\Actions\StartRun;
use App\Http\Views\RecoveryView;
use App\Instruments\RunFolder;
use App\Models\Job;
use App\Models\Run;
use App\Policies\Rights;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Validation\Rule;

/** Supervised runs: planned, started, watched, spoken to. */
final class RunController extends Controller
{
    public function overview(Job $job): JsonResponse
    {
        return new JsonResponse(RecoveryView::of($job, $this->person()));
    }

    /** The plan as it would be with other entries; nothing is stored. */
    public function plan(Request $request, Job $job): JsonResponse
    {
        $in = $this->entries($request);
        if ($in['kind'] === 'balance') {
            return new JsonResponse(['recovery' => null, 'balance' => RecoveryView::balance($job, $in)?->toArray()]);
        }

        return new JsonResponse(['recovery' => RecoveryView::plan($job, (int) ($in['group'] ?? 0), $this->person()->workshop->said(), $in)?->toArray(), 'balance' => null]);
    }

    public function store(Request $request, Job $job, StartRun $start): JsonResponse
    {
        $run = $start->handle($this->person(), $job, $this->entries($request));

        return new JsonResponse(RecoveryView::row($run), 201);
    }

    /** Polled about four times a second; whoever may recover and looks at it counts as watching. */
    public function show(Request $request, Run $run): JsonResponse
    {
        $folder = RunFolder::of($run->id);
        if ($run->ended_at === null && is_dir($folder->path) && Rights::allows($this->person(), 'recover')) {
            $folder->touch();
        }

        return new JsonResponse(RecoveryView::live($run, (int) $request->query('from', '0')));
    }

    public function say(Request $request, Run $run, SayToRun $say): JsonResponse
    {
        $in = $request->validate([
            'do' => ['required', Rule::in(SayToRun::ALL)], 'why' => 'required_if:do,end|nullable|string|max:500', 'v' => 'required_if:do,plan|required_if:do,ambient|nullable|numeric|between:-1000,1000',
            'a' => 'nullable|numeric|between:-1000,1000', 'c' => 'nullable|numeric|between:-60,200',
        ]);
        $say->handle($this->person(), $run, array_filter($in, fn (mixed $x): bool => $x !== null));

        return new JsonResponse(RecoveryView::live($run));
    }

    /** @return array<string, mixed> */
    private function entries(Request $request): array
    {
        return array_filter($request->validate([
            'kind' => ['required', Rule::in(['recovery', 'balance', 'bypass', 'charge'])], 'group' => 'required_if:kind,recovery|nullable|integer|between:1,200', 'meter_id' => 'nullable|integer', 'supply_id' => 'nullable|integer', 'board_id' => 'nullable|integer', 'thermometer_id' => 'nullable|integer', 'ammeter_id' => 'nullable|integer', 'resolution_a' => 'nullable|numeric|between:0.00001,10', 'time_scale' => 'nullable|numeric|between:1,60',
            'override' => 'nullable|string|max:1000', 'below_floor_days' => 'nullable|numeric|between:0,10000', 'ambient_c' => 'nullable|numeric|between:-30,60', 'resolution_v' => 'nullable|numeric|between:0.00001,0.1',
            'supply_a' => 'nullable|numeric|between:0.01,200', 'active_a' => 'nullable|numeric|between:0.01,50', 'held' => 'nullable|boolean', 'method' => ['nullable', Rule::in(['level', 'single'])], 'phosphate' => ['nullable', Rule::in(['A', 'B'])],
            'confirm_every_min' => 'nullable|numeric|between:1,60', 'checks' => 'nullable|array',
        ]), fn (mixed $x): bool => $x !== null);
    }
}
