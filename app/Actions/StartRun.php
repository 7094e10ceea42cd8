<?php

declare(strict_types=1);

namespace App\Actions;

use App\Http\Views\RecoveryView;
use App\Instruments\RunFolder;
use App\Models\Instrument;
use App\Models\Job;
use App\Models\Person;
use App\Models\Run;
use App\Policies\Rights;
use Carbon\CarbonImmutable;
use Heartwood\Core\Diagnosis\GroupEvidence;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Recovery\Attendance;
use Heartwood\Core\Recovery\BypassWatch;
use Heartwood\Core\Recovery\RecoveryPolicy;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;

/**
 * Starts a recovery or balancing run: every gate first (handbook "Gates on work"), then the row, then the folder from
 * which the runner takes it. From there on nothing needs this server or its database.
 */
final class StartRun
{
    public const CHECKS = [
        'place' => 'The pack lies in a fire-safe place.', 'awake' => 'Nobody asleep in the building, somebody stays with it.', 'extinguisher' => 'Extinguishing means as the shop rules say, at hand.',
        'isolated' => 'Charger, load and sibling packs are off, zero current proved.', 'temperature' => 'A temperature probe sits on the group.',
    ];

    /** @param  array<string, mixed>  $data */
    public function handle(Person $person, Job $job, array $data): Run
    {
        Gatekeeper::open($job);
        Gatekeeper::pass($job, 'recover-or-balance', $person);
        foreach (self::CHECKS as $name => $text) {
            if (($data['checks'][$name] ?? false) !== true) {
                throw new Refused('check-missing', "Not confirmed: $text", 422, ["checks.$name" => 'Confirm it or do not start.']);
            }
        }
        $meter = $this->instrument($job, 'meter', $data['meter_id'] ?? null);
        $supply = $this->instrument($job, 'supply', $data['supply_id'] ?? null);
        if ($supply !== null && $supply->timer === '') {
            throw new Refused('supply-stays-on', "{$supply->name} does not switch itself off when nobody renews it: set it by hand, and type or stream the readings.", 422, ['supply_id' => 'Not driven by this tool.']);
        }
        if ($supply !== null && $meter === null) {
            throw new Refused('no-meter', 'A supply is driven only while a meter reads the group and its temperature.', 422, ['meter_id' => 'Choose the meter that sits on the group.']);
        }
        $simulated = $meter !== null && $meter->simulated && ($supply === null || $supply->simulated);
        $scale = (float) ($data['time_scale'] ?? 1.0);
        if ($scale > 1.0 && ! $simulated) {
            throw new Refused('no-hurry', 'Time runs quicker only on the simulated bench.', 422, ['time_scale' => 'Leave it at 1.']);
        }
        $settings = $person->workshop->settings;
        $closes = self::closing($settings);
        $hours = 0.0;
        $board = null;
        if ($data['kind'] === 'recovery') {
            $plan = RecoveryView::plan($job, (int) $data['group'], $settings, $data);
            if ($plan === null) {
                throw new Refused('unread', 'This group has no rest voltage yet: read it first.', 422, ['group' => 'Read the groups at rest.']);
            }
            if (! $plan->isAllowed()) {
                throw new Refused('refused', implode(' ', $plan->refusals));
            }
            if ($plan->overridable !== [] && ! Rights::isSenior($person)) {
                throw new Refused('senior-only', $plan->overridable[0]);
            }
            $hours = $plan->hours();
            $content = ['plan' => $plan->toArray(), 'group' => $plan->group];
            $reason = trim((string) ($data['override'] ?? ''));
        } elseif ($data['kind'] === 'bypass') {
            [$content, $reason] = $this->bypass($person, $job, $data);
            $board = $this->instrument($job, 'board', $data['board_id'] ?? null) ?? throw new Refused('no-board', 'Every group must be seen at least once a minute: choose the board reader.', 422, ['board_id' => 'Identify it under Instruments first.']);
            if ($supply === null) {
                throw new Refused('no-supply', 'The exception is driven only by a supply that switches itself off.', 422, ['supply_id' => 'Choose one.']);
            }
            $hours = 4.0;
        } else {
            $balance = RecoveryView::balance($job, $data);
            if ($balance === null) {
                throw new Refused('unread', 'Every group needs a rest voltage before the pack can be balanced.');
            }
            if ($balance->refuses() !== null) {
                throw new Refused('low-first', $balance->refuses());
            }
            $single = ($data['method'] ?? 'single') === 'level' ? $balance->level() : $balance->single();
            $hours = (float) $single['hours'];
            $content = ['order' => $single['order'], 'volts' => $balance->fullV(), 'amps' => RecoveryView::means($job, $data)->supplyA, 'ambient_c' => (float) ($data['ambient_c'] ?? 20.0), 'group' => 0];
            $reason = '';
        }
        $late = (new Attendance(new RecoveryPolicy('A', 30.0, $closes === null ? null : (float) now()->diffInSeconds($closes)), 0.0))->refusesStart(0.0, $hours / $scale);
        if ($late !== null) {
            throw new Refused('closing', $late);
        }

        return DB::transaction(function () use ($person, $job, $data, $content, $meter, $supply, $board, $scale, $closes, $reason): Run {
            foreach (array_filter([$meter, $supply, $board]) as $i) {
                Instrument::query()->lockForUpdate()->find($i->id);
            }
            $ids = array_values(array_map(fn (Instrument $i): int => $i->id, array_filter([$meter, $supply, $board])));
            foreach (Run::query()->where('workshop_id', $job->workshop_id)->whereNull('ended_at')->get() as $other) {
                if (array_intersect($ids, $other->plan['instruments'] ?? []) !== []) {
                    throw new Refused('in-use', 'One of these instruments drives another run: wait, or end that one first.');
                }
                if ($other->job_id === $job->id) {
                    throw new Refused('in-use', 'This pack has a run already: end it first.');
                }
            }
            $at = fn (?Instrument $i): ?array => $i === null ? null : ['host' => $i->host, 'port' => $i->port, 'timer' => $i->timer, 'name' => $i->name];
            $plan = $content + [
                'kind' => $data['kind'], 'meter' => $at($meter), 'supply' => $at($supply), 'board' => $at($board), 'instruments' => $ids, 'time_scale' => $scale, 'started' => microtime(true),
                'confirm_every_min' => (float) ($data['confirm_every_min'] ?? 30.0), 'below_floor_days' => $data['below_floor_days'] ?? null, 'who' => $person->name,
            ] + ($closes === null ? [] : ['closes_at' => (float) $closes->timestamp]);
            $run = Run::query()->create([
                'id' => (string) Str::uuid7(), 'workshop_id' => $job->workshop_id, 'job_id' => $job->id, 'revision' => $job->revision, 'kind' => $data['kind'], 'group_no' => $content['group'],
                'plan' => $plan, 'reason' => $reason, 'started_by' => $person->id, 'started_at' => now(),
            ]);
            EventLog::add($person, $job, 'run-started', ['kind' => $run->kind, 'group' => $run->group_no, 'reason' => $reason]);
            DB::afterCommit(fn () => RunFolder::of($run->id)->start($plan));

            return $run;
        });
    }

    /**
     * @param  array<string, mixed>  $data
     * @return array{array<string, mixed>, string}
     */
    private function bypass(Person $person, Job $job, array $data): array
    {
        $record = JobRecord::fromArray(BuildRecord::of($job));
        $groups = array_map(fn (GroupEvidence $e): ?float => $e->restV, (new PackEvidence($record))->groups);
        $ineligible = [];
        foreach (array_keys($groups) as $i) {
            if (array_intersect(RecoveryView::codes($job, $i + 1), ['group.dead', 'group.reversed', 'cell.swollen', 'cell.leaking', 'cell.hot']) !== []) {
                $ineligible[] = $i + 1;
            }
        }
        $amps = (float) ($data['supply_a'] ?? ($record->pack->groupCapacityAh() ?? 0.0) / 20);
        $reason = trim((string) ($data['override'] ?? ''));
        $why = BypassWatch::refuses($record->pack, $groups, $ineligible, Rights::isSenior($person), $reason, $amps);
        if ($why !== []) {
            throw new Refused('refused', implode(' ', $why));
        }

        return [['pack' => $job->pack, 'amps' => $amps, 'ambient_c' => (float) ($data['ambient_c'] ?? 20.0), 'group' => 0], $reason];
    }

    private function instrument(Job $job, string $kind, mixed $id): ?Instrument
    {
        if ($id === null) {
            return null;
        }

        $found = Instrument::query()->where('workshop_id', $job->workshop_id)->where('kind', $kind)->where('active', true)->whereNotNull('checked_at')->find((int) $id);

        /** @var Instrument|null $found */
        return $found ?? throw new Refused('no-instrument', "This $kind is not known or not identified yet.", 422, ["{$kind}_id" => 'Identify it under Instruments first.']);
    }

    /** @param  array<string, mixed>  $settings */
    private static function closing(array $settings): ?CarbonImmutable
    {
        $time = (string) ($settings['closes_at'] ?? '');
        if (! preg_match('/^\d{2}:\d{2}$/', $time)) {
            return null;
        }
        $now = CarbonImmutable::now((string) ($settings['timezone'] ?? 'UTC'));

        return $now->setTimeFromTimeString($time)->utc();
    }
}
