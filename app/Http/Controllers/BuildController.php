<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\BuildRecord;
use App\Actions\EventKind;
use App\Actions\EventLog;
use App\Actions\Gatekeeper;
use App\Actions\LockJob;
use App\Actions\Refused;
use App\Contract\Verbs;
use App\Http\Requests\BoardSwapBody;
use App\Http\Requests\JointBody;
use App\Http\Requests\PinsBody;
use App\Http\Requests\SheetBody;
use App\Models\Cell;
use App\Models\Event;
use App\Models\Job;
use App\Support\ReportPdf;
use Heartwood\Core\Build\BoardSwap;
use Heartwood\Core\Build\CurrentBudget;
use Heartwood\Core\Build\Joint;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Log\GaugeCheck;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\PackSpec;
use Illuminate\Http\JsonResponse;
use Illuminate\Support\Facades\DB;
use Symfony\Component\HttpFoundation\Response;

/** What is worked out for a build: current budget, layout, plug. Inputs are kept with the job, results are worked out anew. */
final class BuildController extends Controller
{
    public function show(Job $job): JsonResponse
    {
        return new JsonResponse($this->all($job));
    }

    /** Keeps what was entered for one of the sheets and gives everything as it comes out then. */
    public function keep(SheetBody $request, Job $job, string $kind): JsonResponse
    {
        abort_unless(in_array($kind, ['budget', 'layout'], true), 404);
        $data = (array) $request->validated()['data'];
        // Worked out before it is kept: what cannot be read is refused with its field.
        $kind === 'budget' ? $this->budget($job, $data) : $this->layout($job, $data);
        DB::transaction(function () use ($job, $kind, $data): void {
            Gatekeeper::open(LockJob::now($job));
            DB::table('job_sheets')->updateOrInsert(
                ['job_id' => $job->id, 'kind' => $kind],
                ['data' => json_encode((object) $data), 'kept_by' => $this->person()->id, 'kept_at' => now()->format('Y-m-d H:i:s.u')],
            );
            EventLog::add($this->person(), $job, EventKind::from("$kind-kept"));
        });

        return new JsonResponse($this->all($job));
    }

    /** The plug, pin by pin; the answer stops or lets go. The reading itself is a test of the record and comes by the outbox. */
    public function pins(PinsBody $request, Job $job): JsonResponse
    {
        $in = $request->validated();
        $groups = $this->groups($job);
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
        $budget = CurrentBudget::of($record->pack, new Fields($this->kept($job, 'budget')));

        return new JsonResponse([
            'points' => BoardSwap::check($record->pack, new Fields((array) $in['board']), $budget->loadA, $budget->peakA),
        ]);
    }

    /** Torqued joints: what was set, by whom, and when to look again. */
    public function joints(Job $job): JsonResponse
    {
        $rows = Event::query()->where('job_id', $job->id)->where('kind', EventKind::Joint)->with('person')->orderBy('id')->get()->map(
            fn(Event $e): array => [
                'tap' => (int) $e->data['tap'],
                'set_nm' => (float) $e->data['set_nm'],
                'min_nm' => (float) $e->data['min_nm'],
                'max_nm' => (float) $e->data['max_nm'],
                'contact' => (string) ($e->data['contact'] ?? ''),
                'by' => (string) $e->person?->name,
                'at' => $e->at->toIso8601ZuluString(),
                'check_again' => $e->at->addDays(7)->toIso8601ZuluString(),
            ],
        );

        return new JsonResponse(['joints' => $rows->all()]);
    }

    /** A joint set to its torque: recorded, and known to the verdict as retightened. */
    public function joint(JointBody $request, Job $job): JsonResponse
    {
        $in = $request->validated();
        try {
            $target = Joint::torque((float) $in['min_nm'], (float) $in['max_nm'], (float) $in['tolerance']);
        } catch (\InvalidArgumentException $e) {
            throw new Refused('torque', $e->getMessage(), 422, ['min_nm' => $e->getMessage()]);
        }
        $set = isset($in['set_nm']) ? (float) $in['set_nm'] : $target['set_nm'];
        if ($set === null || $set * (1 - $in['tolerance']) < $in['min_nm'] || $set * (1 + $in['tolerance']) > $in['max_nm']) {
            throw new Refused('torque', $target['text'], 422, ['set_nm' => $target['text']]);
        }
        DB::transaction(function () use ($job, $in, $set): void {
            Gatekeeper::open(LockJob::now($job));
            Gatekeeper::pass($job, 'open', $this->person());
            EventLog::add($this->person(), $job, EventKind::Joint, [
                'tap' => $in['tap'],
                'set_nm' => $set,
                'min_nm' => $in['min_nm'],
                'max_nm' => $in['max_nm'],
                'contact' => $in['contact'] ?? '',
            ]);
            EventLog::add($this->person(), $job, EventKind::PackEvent, [
                'at' => now()->toIso8601ZuluString(),
                'kind' => 'retightened',
                'where' => ['joint' => $in['tap']],
                'revision' => $job->revision,
            ]);
        });

        return new JsonResponse(['target' => $target['text']] + (array) $this->joints($job)->getData(true), 201);
    }

    public function pdf(Job $job): Response
    {
        $sheet = $this->layout($job, $this->kept($job, 'layout'));

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

    /** @return array<string, mixed> */
    private function all(Job $job): array
    {
        $why = null;
        try {
            $layout = $this->layout($job, $this->kept($job, 'layout'));
        } catch (Refused $e) {
            $layout = null;
            $why = $e->getMessage();
        }

        return [
            'inputs' => ['budget' => (object) $this->kept($job, 'budget'), 'layout' => (object) $this->kept($job, 'layout')],
            'budget' => $this->budget($job, $this->kept($job, 'budget')),
            'layout' => $layout,
            'layout_refused' => $why,
            'groups_v' => $this->groups($job),
            'gauge' => $this->gauge($job),
        ];
    }

    /**
     * @param  array<string, mixed>  $parts
     * @return array<string, mixed>
     */
    private function budget(Job $job, array $parts): array
    {
        return self::work(
            'budget',
            [
                'job' => array_diff_key(BuildRecord::of($job), ['measurements' => 1, 'tests' => 1, 'events' => 1]),
                'parts' => (object) $parts,
            ],
            '/parts',
        );
    }

    /**
     * @param  array<string, mixed>  $data
     * @return array<string, mixed>
     */
    private function layout(Job $job, array $data): array
    {
        $pack = PackSpec::from(new Fields($job->pack));
        $sizes = [
            '18650' => [18.4, 65.0],
            '21700' => [21.4, 70.0],
            '26650' => [26.3, 65.5],
            '26700' => [26.4, 70.0],
            '14500' => [14.3, 50.0],
        ];
        [$d, $l] = $sizes[(string) $pack->cell->string('format')] ?? [18.4, 65.0];
        $budget = CurrentBudget::of($pack, new Fields($this->kept($job, 'budget')));
        $groups = $this->groups($job);

        return self::work(
            'layout',
            $data + [
                    'series' => $job->series,
                    'parallel' => (int) ($job->parallel ?? 1),
                    'diameter_mm' => $d,
                    'length_mm' => $l,
                    'load_a' => round($budget->loadA > 0 ? $budget->loadA : 2.0 * ($pack->groupCapacityAh() ?? 5.0), 2),
                ] +
                ($groups === null ? [] : ['groups_v' => $groups]),
            '',
        );
    }

    /**
     * @param  array<string, mixed>  $input
     * @return array<string, mixed>
     */
    private static function work(string $verb, array $input, string $prefix): array
    {
        try {
            return Verbs::run($verb, (string) json_encode($input));
        } catch (InvalidRecord $e) {
            $fields = [];
            foreach ($e->problems as $p) {
                $fields[ltrim(str_starts_with($p['pointer'], $prefix) ? substr($p['pointer'], strlen($prefix)) : $p['pointer'], '/')] =
                    $p['message'];
            }
            throw new Refused('cannot', $e->problems[0]['message'], 422, $fields);
        }
    }

    /** @return array<string, mixed> */
    private function kept(Job $job, string $kind): array
    {
        return (array) json_decode((string) DB::table('job_sheets')->where('job_id', $job->id)->where('kind', $kind)->value('data'), true);
    }

    /**
     * What the gauge holds against what the cells in the job give by their tests; null while either is unknown.
     *
     * @return array{off: float, stale: bool, text: string, relearn: list<string>}|null
     */
    private function gauge(Job $job): ?array
    {
        $gauge = BuildRecord::live($job->benchTests()->get())
            ->where('kind', 'gauge')
            ->last();
        $cells = Cell::query()->where('job_id', $job->id)->get();
        if (
            $gauge === null ||
            !isset($gauge->data['full_charge_wh']) ||
            $cells->count() !== $job->series * (int) ($job->parallel ?? 1) ||
            $cells->contains('capacity_ah', null)
        ) {
            return null;
        }

        return GaugeCheck::ofCells(
            (float) $gauge->data['full_charge_wh'],
            array_values($cells->map(fn(Cell $c): float => (float) $c->capacity_ah)->all()),
            PackSpec::from(new Fields($job->pack))->profile()->nominalV,
        );
    }

    /** @return list<float>|null */
    private function groups(Job $job): ?array
    {
        $out = [];
        foreach ((new PackEvidence(JobRecord::fromArray(BuildRecord::of($job))))->groups as $e) {
            if ($e->restV === null) {
                return null;
            }
            $out[] = round($e->restV, 4);
        }

        return $out;
    }
}
