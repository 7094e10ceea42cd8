<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\KeepBatch;
use App\Actions\OpenBatch;
use App\Actions\Version;
use App\Contract\PackInput;
use App\Http\Requests\ArrivalBody;
use App\Http\Requests\EditBatchBody;
use App\Http\Requests\LaneBody;
use App\Http\Requests\OpenBatchBody;
use App\Http\Requests\ShareBody;
use App\Models\Batch;
use App\Read\BatchLane;
use Heartwood\Core\Batch\ArrivalList;
use Illuminate\Http\JsonResponse;

/** Packs that come as a lot: taken in together, seen as one lane. */
final class BatchController extends Controller
{
    private const SHOWN = 100;

    public function index(): JsonResponse
    {
        $all = Batch::query()
            ->where('workshop_id', $this->person()->workshop_id)
            ->with('customer')
            ->withCount(['jobs', 'jobs as open_count' => fn($q) => $q->where('status', 'open')])
            ->orderByDesc('id')
            ->limit(self::SHOWN)
            ->get();

        return new JsonResponse([
            'batches' => $all
                ->map(
                    fn(Batch $b): array => BatchLane::said($b) + [
                        'customer' => $b->customer->name,
                        'packs' => (int) $b->getAttribute('jobs_count'),
                        'open' => (int) $b->getAttribute('open_count'),
                    ],
                )
                ->all(),
        ]);
    }

    /** A list as it is typed: what is read out of it; nothing is written. */
    public function arrival(ArrivalBody $request): JsonResponse
    {
        $list = ArrivalList::of((string) $request->validated()['list']);

        return new JsonResponse(['rows' => $list->rows, 'wrong' => $list->wrong]);
    }

    public function store(OpenBatchBody $request, OpenBatch $open): JsonResponse
    {
        $in = $request->said();
        PackInput::check($in['pack'], [], []);
        $batch = $open->handle($this->person(), $in);

        return new JsonResponse(BatchLane::of($batch), 201);
    }

    public function show(LaneBody $request, Batch $batch): JsonResponse
    {
        $in = $request->validated();

        return (new JsonResponse(
            BatchLane::of($batch, $in['lane'] ?? null, (int) ($in['from'] ?? 0), (string) ($in['find'] ?? '')),
        ))->header('ETag', Version::tag($batch));
    }

    public function update(EditBatchBody $request, Batch $batch, KeepBatch $keep): JsonResponse
    {
        return new JsonResponse(BatchLane::of($keep->edit($this->person(), $batch, $request->validated(), $this->version($request))));
    }

    public function share(ShareBody $request, Batch $batch, KeepBatch $keep): JsonResponse
    {
        $written = $keep->share($this->person(), $batch, (int) $request->validated()['job']);

        return new JsonResponse(['written' => $written] + BatchLane::of($batch->refresh()));
    }

    public function labels(Batch $batch): JsonResponse
    {
        return new JsonResponse(['labels' => BatchLane::labels($batch)]);
    }
}
