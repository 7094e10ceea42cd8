<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\Refused;
use App\Actions\Train;
use App\Http\Requests\TrainingActBody;
use App\Http\Requests\TrainingAnswerBody;
use App\Http\Requests\TrainingBody;
use App\Http\Requests\TrainingFinishBody;
use App\Models\Job;
use App\Models\TrainingRound;
use App\Read\Training;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Trainer\Choice;
use Heartwood\Core\Trainer\Mend;
use Heartwood\Core\Trainer\Paper;
use Illuminate\Http\JsonResponse;

/** The trainer: rounds on simulated packs. Each sees their own; the owner sees how everybody gets on. */
final class TrainingController extends Controller
{
    public function home(): JsonResponse
    {
        return new JsonResponse(Training::home($this->person()));
    }

    public function people(): JsonResponse
    {
        return new JsonResponse(Training::people($this->person()->workshop_id));
    }

    public function store(TrainingBody $request, Train $train): JsonResponse
    {
        $in = $request->validated();

        return new JsonResponse(Training::round($train->begin($this->person(), $in['level'] ?? null, $in['case'] ?? null)), 201);
    }

    public function show(TrainingRound $trainingRound): JsonResponse
    {
        if ($trainingRound->person_id !== $this->person()->id) {
            throw new Refused('not-yours', 'This round is played by somebody else.', 403);
        }

        return new JsonResponse(Training::round($trainingRound));
    }

    public function act(TrainingActBody $request, TrainingRound $trainingRound, Train $train): JsonResponse
    {
        $in = $request->validated();
        $act = (array) $request->input('act');

        return new JsonResponse(Training::round($train->act($this->person(), $trainingRound, $in['id'], $in['number'], $act)));
    }

    public function answer(TrainingAnswerBody $request, TrainingRound $trainingRound, Train $train): JsonResponse
    {
        $in = $request->validated();
        $round = $train->answer(
            $this->person(),
            $trainingRound,
            array_map(fn(array $f): array => ['probability' => (float) $f['probability']] + $f, array_values($in['findings'])),
            isset($in['nothing']) ? (float) $in['nothing'] : null,
            $in['option'] ?? null,
            (bool) ($in['carry_out'] ?? false),
        );

        return new JsonResponse(Training::round($round));
    }

    public function finish(TrainingFinishBody $request, TrainingRound $trainingRound, Train $train): JsonResponse
    {
        $returned = $request->validated()['returned'];

        return new JsonResponse(
            Training::round($train->finish($this->person(), $trainingRound, $returned === null ? null : (bool) $returned)),
        );
    }

    public function leave(TrainingRound $trainingRound, Train $train): JsonResponse
    {
        return new JsonResponse(Training::round($train->leave($this->person(), $trainingRound)));
    }

    /** What may be done with a pack, as an answer has it. */
    public function choices(): JsonResponse
    {
        return new JsonResponse(
            array_map(
                fn(RepairAction $a): array => [
                    'action' => $a->value,
                    'title' => $a->title(),
                    'minutes' => $a->minutes(),
                    'at' => $a->placedAt(),
                    'by_hand' => in_array($a, Mend::BY_HAND, true),
                    'new_cells' => in_array($a, Mend::NEW_CELLS, true),
                    'ends' => $a->endsPack(),
                ],
                Choice::all(),
            ),
        );
    }

    /** A round for paper: nobody plays it, so its answers come with it. */
    public function paper(TrainingBody $request): JsonResponse
    {
        $level = $request->validated()['level'] ?? Training::progress($this->person())->level();

        return new JsonResponse(Paper::of(Train::chance($level)));
    }

    public function makeCase(Job $job, Train $train): JsonResponse
    {
        return new JsonResponse(['case' => $train->makeCase($this->person(), $job)->number], 201);
    }

    public function dropCase(Job $job, Train $train): JsonResponse
    {
        $train->dropCase($job);

        return new JsonResponse(['case' => null]);
    }
}
