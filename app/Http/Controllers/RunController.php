<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\SayToRun;
use App\Actions\StartRun;
use App\Http\Requests\RunBody;
use App\Http\Requests\SayBody;
use App\Http\Views\RecoveryView;
use App\Instruments\RunFolder;
use App\Models\Job;
use App\Models\Run;
use App\Policies\Rights;
use App\Read\SupplyPlans;
use App\Watch\Ticket;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** Supervised runs: planned, started, watched, spoken to. */
final class RunController extends Controller
{
    public function overview(Job $job): JsonResponse
    {
        return new JsonResponse(RecoveryView::of($job, $this->person()));
    }

    /** The plan as it would be with other entries; nothing is stored. */
    public function plan(RunBody $request, Job $job): JsonResponse
    {
        $in = $this->entries($request);
        if ($in['kind'] === 'balance') {
            return new JsonResponse(['recovery' => null, 'balance' => SupplyPlans::balance($job, $in)?->toArray()]);
        }

        return new JsonResponse([
            'recovery' => SupplyPlans::plan($job, (int) ($in['group'] ?? 0), $this->person()->workshop->said(), $in)?->toArray(),
            'balance' => null,
        ]);
    }

    public function store(RunBody $request, Job $job, StartRun $start): JsonResponse
    {
        $run = $start->handle($this->person(), $job, $this->entries($request));

        return new JsonResponse(RecoveryView::row($run), 201);
    }

    /** A run as its screen opens it; whoever may recover and looks at it counts as watching. */
    public function show(Request $request, Run $run): JsonResponse
    {
        $folder = RunFolder::of($run->id);
        if ($this->watches($run) && is_dir($folder->path)) {
            $folder->touch();
        }

        return $this->opened($run, (int) $request->query('from', '0'));
    }

    public function say(SayBody $request, Run $run, SayToRun $say): JsonResponse
    {
        $in = $request->validated();
        $say->handle($this->person(), $run, array_filter($in, fn(mixed $x): bool => $x !== null));

        return $this->opened($run);
    }

    private function watches(Run $run): bool
    {
        return $run->ended_at === null && Rights::allows($this->person(), 'recover');
    }

    /** With leave to look on. */
    private function opened(Run $run, int $from = 0): JsonResponse
    {
        $leave = [
            'run' => $run->id,
            'watches' => $this->watches($run),
            'over' => $run->ended_at !== null,
            'closed' => $run->closed_at !== null,
        ];

        return new JsonResponse(
            RecoveryView::live($run, $from) + [
                'watch' => Ticket::give('run', $leave, microtime(true)),
                'lasts_s' => Ticket::LASTS_S,
            ],
        );
    }

    /** @return array<string, mixed> */
    private function entries(RunBody $request): array
    {
        return array_filter($request->validated(), fn(mixed $x): bool => $x !== null);
    }
}
