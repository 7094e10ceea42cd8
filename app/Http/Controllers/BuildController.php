<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\BuildRecord;
use App\Actions\KeepSheet;
use App\Actions\Refused;
use App\Contract\Verbs;
use App\Http\Requests\BoardSwapBody;
use App\Http\Requests\PinsBody;
use App\Http\Requests\SheetBody;
use App\Http\Views\BuildView;
use App\Models\Job;
use App\Read\Sheets;
use App\Support\ReportPdf;
use Heartwood\Core\Build\BoardSwap;
use Heartwood\Core\Build\CurrentBudget;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\JobRecord;
use Illuminate\Http\JsonResponse;
use Symfony\Component\HttpFoundation\Response;

/** The sheets of a build, the plug before it is plugged, a board before it takes another's place. */
final class BuildController extends Controller
{
    public function show(Job $job): JsonResponse
    {
        return new JsonResponse(BuildView::all($job));
    }

    /** Keeps what was entered for one of the sheets and gives everything as it comes out then. */
    public function keep(SheetBody $request, Job $job, string $kind, KeepSheet $keep): JsonResponse
    {
        if (!in_array($kind, KeepSheet::KINDS, true)) {
            abort(404);
        }
        $keep->handle($this->person(), $job, $kind, (array) $request->validated()['data']);

        return new JsonResponse(BuildView::all($job));
    }

    /** The plug, pin by pin; the answer stops or lets go. The reading itself is a test of the record and comes by the outbox. */
    public function pins(PinsBody $request, Job $job): JsonResponse
    {
        $in = $request->validated();
        $groups = Sheets::groups($job);
        if ($groups === null) {
            throw new Refused('unread', 'Every group must be read first: the staircase comes from today\'s voltages.');
        }

        return new JsonResponse(
            Verbs::run(
                'pin-check',
                (string) json_encode([
                    'groups_v' => $groups,
                    'pins_v' => array_map(fn(mixed $v): ?float => $v === null ? null : (float) $v, $in['pins_v']),
                    'from_positive' => (bool) ($in['from_positive'] ?? false),
                ]),
            ),
        );
    }

    public function board(BoardSwapBody $request, Job $job): JsonResponse
    {
        $in = $request->validated();
        $record = JobRecord::fromArray(BuildRecord::of($job));
        $budget = CurrentBudget::of($record->pack, new Fields(Sheets::kept($job, 'budget')));

        return new JsonResponse([
            'wanted' => BoardSwap::wanted($record->pack, $budget),
            'points' => BoardSwap::check(
                $record->pack,
                new Fields((array) $in['board']),
                $budget->loadA,
                $budget->peakA,
                array_column($budget->chain, 'continuous_a', 'element')['cells'],
            ),
        ]);
    }

    public function pdf(Job $job): Response
    {
        $sheet = Sheets::layout($job, Sheets::kept($job, 'layout'));

        // A drawing that would shrink on an upright page lies across; its size on paper is set there, not in the drawing.
        $across = $sheet['width_mm'] + 32 > 178;
        $image = fn(string $svg): string => 'data:image/svg+xml;base64,' .
            base64_encode((string) preg_replace('/ (width|height)="[\d.]+mm"/', '', $svg, 2));

        return new Response(
            ReportPdf::view(
                'build',
                ['job' => $job, 'sheet' => $sheet, 'image' => $image, 'across' => $across],
                $across ? 'landscape' : 'portrait',
            ),
            200,
            ['Content-Type' => 'application/pdf', 'Content-Disposition' => 'inline; filename="build-' . $job->number . '.pdf"'],
        );
    }
}
