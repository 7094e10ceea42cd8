<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\Claims;
use App\Actions\KeepInstrument;
use App\Actions\Refused;
use App\Http\Requests\BoardReportBody;
use App\Http\Requests\HandBody;
use App\Http\Requests\InstrumentBody;
use App\Http\Requests\IsolationBody;
use App\Http\Requests\RegistersBody;
use App\Instruments\Desk;
use App\Instruments\InstrumentFault;
use App\Instruments\Line;
use App\Instruments\RunFolder;
use App\Models\Instrument;
use App\Models\Job;
use App\Models\Run;
use Heartwood\Core\Reading\BoardReport;
use Heartwood\Core\Reading\SmartBattery;
use Illuminate\Http\JsonResponse;

/**
 * Instruments: kept, asked, and listened to while probing.
 *
 * @phpstan-import-type DeskAt from Desk
 */
final class InstrumentController extends Controller
{
    public function index(): JsonResponse
    {
        return $this->list();
    }

    public function store(InstrumentBody $request, KeepInstrument $keep): JsonResponse
    {
        /** @var array{name: string, kind: string, host: string, port: int, place?: string, timeout_s?: float, channel?: int|null} $data */
        $data = $request->validated();
        $data['place'] ??= '';
        $data['timeout_s'] = (float) ($data['timeout_s'] ?? 0.8);
        $keep->add($this->person(), $data);

        return $this->list(201);
    }

    public function identify(Instrument $instrument, KeepInstrument $keep): JsonResponse
    {
        $keep->identify($this->person(), $instrument);

        return $this->list();
    }

    public function isolation(IsolationBody $request, Instrument $instrument, KeepInstrument $keep): JsonResponse
    {
        $keep->isolation($this->person(), $instrument, (float) $request->validated()['mohm']);

        return $this->list();
    }

    public function retire(Instrument $instrument, KeepInstrument $keep): JsonResponse
    {
        $keep->retire($this->person(), $instrument);

        return $this->list();
    }

    /** What it shows now, as the desk or the run that has it saw it last; reads only, switches nothing. */
    public function reading(Instrument $instrument): JsonResponse
    {
        return new JsonResponse(['shows' => $this->shows($instrument)]);
    }

    /** @return array<string, mixed> */
    private function shows(Instrument $i): array
    {
        if (Claims::isTaken($i)) {
            $run = Run::query()
                ->where('workshop_id', $i->workshop_id)
                ->whereNull('closed_at')
                ->get()
                ->first(fn(Run $r): bool => in_array($i->id, $r->plan['instruments'] ?? [], true));
            $state = $run === null || $i->kind === 'board' ? [] : RunFolder::of($run->id)->state();
            if ($state === [] || microtime(true) - (float) ($state['wall'] ?? 0) > 3.0) {
                throw new Refused('in-use', "{$i->name} is in use.");
            }

            return $i->kind === 'supply'
                ? ['volts' => $state['set']['volts'], 'amps' => $state['live']['a'], 'on' => $state['output']]
                : ['volts' => $state['live']['v'], 'celsius' => $state['live']['c']];
        }

        try {
            return Desk::look(Claims::atDesk($i), 'all');
        } catch (InstrumentFault $e) {
            throw new Refused('silent', "{$i->name}: " . $e->getMessage(), 503);
        }
    }

    /** A board's report over its line, or as pasted. */
    public function board(BoardReportBody $request, Job $job): JsonResponse
    {
        $in = $request->validated();
        $text = (string) ($in['text'] ?? '');
        if (isset($in['instrument_id'])) {
            $i = Instrument::query()
                ->where('workshop_id', $this->person()->workshop_id)
                ->where('active', true)
                ->where('kind', 'board')
                ->whereKey($in['instrument_id'])
                ->firstOrFail();
            $text = (string) $this->shows($i)['says'];
        }
        $report = BoardReport::parse($text, $job->series);
        if ($report->volts === []) {
            throw new Refused('no-groups', 'No group voltages were found in this.', 422, [
                'text' => 'One number a group, from B-, or lines such as "group 3 3.71".',
            ]);
        }

        return new JsonResponse([
            'groups' => array_map(
                fn(int $k): ?float => isset($report->volts[$k]) ? round($report->volts[$k], 4) : null,
                range(1, $job->series),
            ),
            'temperatures' => $report->temperatures,
            'flags' => $report->flags,
            'current_a' => $report->currentA,
            'unit' => $report->unit,
            'notes' => $report->notes,
        ]);
    }

    public function registers(RegistersBody $request): JsonResponse
    {
        $d = SmartBattery::parse((string) $request->validated()['dump']);

        return new JsonResponse([
            'rows' => $d->rows,
            'groups_v' => $d->groupsV,
            'status' => $d->status,
            'gauge' => $d->gauge === null ? null : (object) $d->gauge,
            'volts' => $d->volts,
            'amps' => $d->amps,
            'cycles' => $d->cycles,
            'errors' => $d->errors,
        ]);
    }

    /** The simulated bench's hand: what it is told, and what it looks like. */
    public function hand(HandBody $request): JsonResponse
    {
        $in = $request->validated();
        try {
            $answer = json_decode((new Line('127.0.0.1', (int) config('heartwood.bench_port') + 4))->ask((string) json_encode($in)), true);
        } catch (InstrumentFault) {
            throw new Refused('no-bench', 'The simulated bench does not run: ./heartwood up starts it.', 503);
        }

        return new JsonResponse($answer);
    }

    private function list(int $status = 200): JsonResponse
    {
        $rows = Instrument::query()
            ->where('workshop_id', $this->person()->workshop_id)
            ->where('active', true)
            ->orderBy('kind')
            ->orderBy('name')
            ->get();

        return new JsonResponse(
            [
                'instruments' => $rows
                    ->map(
                        fn(Instrument $i): array => [
                            'id' => $i->id,
                            'name' => $i->name,
                            'kind' => $i->kind,
                            'host' => $i->host,
                            'port' => $i->port,
                            'place' => $i->place,
                            'identity' => $i->identity === [] ? null : (object) $i->identity,
                            'simulated' => $i->simulated,
                            'driven' => $i->kind === 'supply' && $i->timer !== '',
                            'channel' => $i->channel,
                            'timeout_s' => $i->timeout_s,
                            'isolation_mohm' => $i->isolation_mohm,
                            'isolation_at' => $i->isolation_at?->toIso8601ZuluString(),
                            'checked_at' => $i->checked_at?->toIso8601ZuluString(),
                        ],
                    )
                    ->all(),
            ],
            $status,
        );
    }
}
