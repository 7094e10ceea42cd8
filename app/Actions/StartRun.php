<?php

declare(strict_types=1);

namespace App\Actions;

use App\Instruments\Identity;
use App\Instruments\RunFolder;
use App\Models\Instrument;
use App\Models\Job;
use App\Models\Person;
use App\Models\Run;
use App\Policies\Rights;
use App\Read\SupplyPlans;
use Carbon\CarbonImmutable;
use Heartwood\Core\Diagnosis\GroupEvidence;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Reading\RestSpread;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Recovery\BypassRules;
use Heartwood\Core\Recovery\RecoveryPlan;
use Heartwood\Core\Run\CannotRun;
use Heartwood\Core\Run\RunPlan;
use Heartwood\Core\Safety\Isolation;
use Heartwood\Core\Shop\Schools;
use Heartwood\Core\Shop\Settings;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;

/**
 * Starts a supervised run: every gate first, on the locked job (handbook "Gates on work"), every instrument claimed, then
 * the row, then the folder from which the runner takes it. From there on nothing needs this server or its database.
 */
final class StartRun
{
    public const CHECKS = [
        'place' => 'The pack lies in a fire-safe place.',
        'awake' => 'Nobody asleep in the building, somebody stays with it.',
        'extinguisher' => 'Extinguishing means as the shop rules say, at hand.',
        'isolated' => 'Charger, load and sibling packs are off, zero current proved.',
        'temperature' => 'A temperature probe sits on the group.',
        'fused' => 'A fuse of 1.5 to 2 times the current, DC rated, in each supply lead; the supply\'s clip still off.',
    ];

    /** Hours that a charge past the board is given before closing time. */
    private const BYPASS_H = 4.0;

    /** @param  array<string, mixed>  $data */
    public function handle(Person $person, Job $job, array $data): Run
    {
        return DB::transaction(function () use ($person, $job, $data): Run {
            Gatekeeper::open(LockJob::now($job));
            Gatekeeper::pass($job, 'recover-or-balance', $person);
            Gatekeeper::looked($job);
            foreach (self::CHECKS as $name => $text) {
                if (($data['checks'][$name] ?? false) !== true) {
                    throw new Refused('check-missing', "Not confirmed: $text", 422, ["checks.$name" => 'Confirm it or do not start.']);
                }
            }
            $bench = $this->bench($job, $data);
            $scale = $this->scale($bench, $data);
            [$content, $hours, $reason] = match ($data['kind']) {
                'recovery' => $this->recovery($person, $job, $data),
                'bypass' => $this->bypass($person, $job, $data, $bench),
                'charge' => $this->charge($job, $data, $bench),
                default => $this->balance($job, $data),
            };
            $closes = self::closing($person->workshop->said());
            $closesIn = $closes === null ? null : (float) now()->diffInSeconds($closes);
            if ($closesIn !== null && (3600 * $hours) / $scale > $closesIn) {
                throw new Refused(
                    'closing',
                    sprintf(
                        'It takes about %.1f h and the shop closes in %.1f h: nothing is charged across closing time.',
                        $hours / $scale,
                        max(0.0, $closesIn) / 3600,
                    ),
                );
            }

            return $this->start($person, $job, $data, $content, $bench, $scale, $closesIn, $reason);
        });
    }

    /**
     * @param  array<string, mixed>  $data
     * @param  array<string, mixed>  $content
     * @param  array<string, Instrument|null>  $bench
     */
    private function start(
        Person $person,
        Job $job,
        array $data,
        array $content,
        array $bench,
        float $scale,
        ?float $closesIn,
        string $reason,
    ): Run {
        $used = array_filter($bench);
        $id = (string) Str::uuid7();
        Claims::pack($id, $job);
        $keys = Claims::take($id, array_values($used));
        $more = [
            'ambient_c' => (float) ($data['ambient_c'] ?? 20.0),
            'confirm_every_min' => (float) ($data['confirm_every_min'] ?? 30.0) * $scale,
            'closes_at_s' => $closesIn === null ? null : $closesIn * $scale,
            'resolution_v' => (float) ($data['resolution_v'] ?? 0.001),
            'resolution_a' => (float) ($data['resolution_a'] ?? 0.01),
            'asks_clip' => true,
            'hurried' => $scale > 1.0,
            'by_hand' => $bench['supply'] === null,
            'range_a' => isset($bench['supply']->identity['max_a']) ? (float) $bench['supply']->identity['max_a'] : null,
            'known_v' => array_map(
                fn(GroupEvidence $e): ?float => $e->restV,
                (new PackEvidence(JobRecord::fromArray(BuildRecord::of($job))))->groups,
            ),
        ];
        $plans = array_map(fn(array $p): array => $p + $more + ['pack' => $job->pack], $content['plans']);
        try {
            foreach ($plans as $p) {
                self::reaches($bench['supply'], RunPlan::fromArray($p));
            }
        } catch (CannotRun $e) {
            throw new Refused('refused', ucfirst($e->getMessage()) . '.');
        }
        $plan =
            [
                'kind' => $data['kind'],
                'series' => $job->series,
                'keys' => $keys,
                'instruments' => array_values(array_map(fn(Instrument $i): int => $i->id, $used)),
                'time_scale' => $scale,
                'started' => microtime(true),
                'below_floor_days' => $data['below_floor_days'] ?? null,
                'who' => $person->name,
                'group' => $content['group'],
            ] +
            (count($plans) === 1 && $data['kind'] !== 'balance'
                ? ['plan' => $plans[0]]
                : ['plans' => $plans, 'hours' => $content['hours'] ?? []]) +
            ($content['info'] ?? []) +
            array_map(
                fn(?Instrument $i): ?array => $i === null
                    ? null
                    : [
                        'host' => $i->address(),
                        'port' => $i->port,
                        'timer' => $i->timer,
                        'name' => $i->name,
                        'timeout_s' => $i->timeout_s,
                        'channel' => $i->channel,
                        'style' => $i->style,
                        'idn' => $i->kind === 'board' || ($i->identity['maker'] ?? '') === '' ? '' : Identity::idn($i->identity),
                        'simulated' => $i->simulated,
                    ],
                $bench,
            );
        $run = Run::query()->create([
            'id' => $id,
            'workshop_id' => $job->workshop_id,
            'job_id' => $job->id,
            'revision' => $job->revision,
            'kind' => $data['kind'],
            'group_no' => $content['group'],
            'plan' => $plan,
            'reason' => $reason,
            'started_by' => $person->id,
            'started_at' => now(),
        ]);
        EventLog::add($person, $job, EventKind::RunStarted, ['kind' => $run->kind, 'group' => $run->group_no, 'reason' => $reason]);
        DB::afterCommit(fn() => RunFolder::of($run->id)->start($plan));

        return $run;
    }

    /**
     * What the run is seen and driven by, each identified, none in doubt.
     *
     * @param  array<string, mixed>  $data
     * @return array{meter: Instrument|null, thermometer: Instrument|null, ammeter: Instrument|null, supply: Instrument|null,
     *   board: Instrument|null}
     */
    private function bench(Job $job, array $data): array
    {
        $bench = [
            'meter' => $this->instrument($job, 'meter', $data['meter_id'] ?? null),
            'thermometer' => $this->instrument($job, 'meter', $data['thermometer_id'] ?? null),
            'ammeter' => $this->instrument($job, 'meter', $data['ammeter_id'] ?? null),
            'supply' => $this->instrument($job, 'supply', $data['supply_id'] ?? null),
            'board' => $this->instrument($job, 'board', $data['board_id'] ?? null),
        ];
        if ($bench['supply'] !== null && $bench['supply']->timer === '') {
            throw new Refused(
                'supply-stays-on',
                "{$bench['supply']->name} does not switch itself off when nobody renews it: " .
                    'set it by hand, and type or stream the readings.',
                422,
                ['supply_id' => 'Not driven by this tool.'],
            );
        }
        if ($bench['supply'] !== null && $bench['meter'] === null) {
            throw new Refused('no-meter', 'A supply is driven only while a meter reads the group and its temperature.', 422, [
                'meter_id' => 'Choose the meter that sits on the group.',
            ]);
        }
        $isolation = Isolation::refuses(
            array_values(
                array_map(
                    fn(Instrument $i): Isolation => new Isolation(
                        $i->name,
                        $i->simulated ? INF : $i->isolation_mohm,
                        $i->isolation_at === null ? null : (float) $i->isolation_at->diffInDays(now()),
                    ),
                    array_filter($bench, fn(?Instrument $i): bool => $i !== null),
                ),
            ),
        );
        if ($isolation !== null) {
            throw new Refused('not-isolated', $isolation);
        }

        return $bench;
    }

    /**
     * @param  array<string, Instrument|null>  $bench
     * @param  array<string, mixed>  $data
     */
    private function scale(array $bench, array $data): float
    {
        $scale = (float) ($data['time_scale'] ?? 1.0);
        $used = array_filter($bench);
        if (
            $scale > 1.0 &&
            ($used === [] || array_filter($used, fn(Instrument $i): bool => !$i->simulated && $i->kind !== 'board') !== [])
        ) {
            throw new Refused('no-hurry', 'Time runs quicker only on the simulated bench.', 422, ['time_scale' => 'Leave it at 1.']);
        }

        return $scale;
    }

    /**
     * @param  array<string, mixed>  $data
     * @return array{array<string, mixed>, float, string}
     */
    private function recovery(Person $person, Job $job, array $data): array
    {
        $plan = SupplyPlans::plan($job, (int) $data['group'], $person->workshop->said(), $data);
        if ($plan === null) {
            throw new Refused('unread', 'This group has no rest voltage yet: read it first.', 422, ['group' => 'Read the groups at rest.']);
        }
        if (!$plan->isAllowed()) {
            throw new Refused('refused', implode(' ', $plan->refusals));
        }
        if ($plan->overridable !== [] && !Rights::isSenior($person)) {
            throw new Refused('senior-only', $plan->overridable[0]);
        }

        return [
            [
                'group' => $plan->group,
                'info' => ['recovery' => $plan->toArray()],
                'plans' => [
                    [
                        'kind' => 'recovery',
                        'group' => $plan->group,
                        'plan_v' => $plan->startV,
                        'target_v' => $plan->toFull ? null : $plan->targetV,
                        'plan_a' => $plan->prechargeA,
                        'below_floor_allowed' => $plan->overridable !== [],
                    ],
                ],
            ],
            $plan->hours(),
            trim((string) ($data['override'] ?? '')),
        ];
    }

    /**
     * @param  array<string, mixed>  $data
     * @return array{array<string, mixed>, float, string}
     */
    private function balance(Job $job, array $data): array
    {
        $balance = SupplyPlans::balance($job, $data);
        if ($balance === null) {
            throw new Refused('unread', 'Every group needs a rest voltage before the pack can be balanced.');
        }
        if ($balance->refuses() !== null) {
            throw new Refused('low-first', $balance->refuses());
        }
        $way = ($data['method'] ?? 'single') === 'level' ? $balance->level() : $balance->single();
        if ($way['order'] === []) {
            throw new Refused('nothing-to-do', 'Every group is there already: nothing is to be filled this way.');
        }
        $amps = SupplyPlans::means($job, $data)->supplyA;

        return [
            [
                'group' => 0,
                'hours' => array_column($way['order'], 'hours'),
                'plans' => array_map(
                    fn(array $o): array => [
                        'kind' => 'balance',
                        'group' => $o['group'],
                        'plan_v' => $balance->restV($o['group']),
                        'plan_a' => $amps,
                        'limit_v' => $balance->fullV(),
                        'target_v' => null,
                        'target_ah' => $o['by_ah'] ? $o['ah'] : null,
                    ],
                    $way['order'],
                ),
            ],
            (float) $way['hours'],
            '',
        ];
    }

    /**
     * @param  array<string, mixed>  $data
     * @param  array<string, Instrument|null>  $bench
     * @return array{array<string, mixed>, float, string}
     */
    private function bypass(Person $person, Job $job, array $data, array $bench): array
    {
        $record = JobRecord::fromArray(BuildRecord::of($job));
        $groups = self::rest($record);
        $ineligible = [];
        foreach (array_keys($groups) as $i) {
            if (RecoveryPlan::isNever(SupplyPlans::codes($job, $i + 1))) {
                $ineligible[] = $i + 1;
            }
        }
        $amps = (float) ($data['supply_a'] ?? ($record->pack->groupCapacityAh() ?? 0.0) * RunLimits::SLOW_C);
        $reason = trim((string) ($data['override'] ?? ''));
        $why = BypassRules::refuses(
            $record->pack,
            $groups,
            $ineligible,
            Rights::isSenior($person),
            $reason,
            $amps,
            Schools::of($person->workshop->said())->chargesPastBoard,
        );
        if ($why !== []) {
            throw new Refused('refused', implode(' ', $why));
        }
        $this->watchesAll($bench);

        return [
            ['group' => 0, 'plans' => [['kind' => 'bypass', 'group' => null, 'plan_v' => array_sum($groups), 'plan_a' => $amps]]],
            self::BYPASS_H,
            $reason,
        ];
    }

    /**
     * A whole pack through its board, every group watched.
     *
     * @param  array<string, mixed>  $data
     * @param  array<string, Instrument|null>  $bench
     * @return array{array<string, mixed>, float, string}
     */
    private function charge(Job $job, array $data, array $bench): array
    {
        $record = JobRecord::fromArray(BuildRecord::of($job));
        $groups = self::rest($record);
        if (in_array(null, $groups, true)) {
            throw new Refused('unread', 'Every group needs a rest voltage before the pack is charged and watched.');
        }
        foreach ($groups as $k => $v) {
            if ($v < $record->pack->profile()->floorV) {
                throw new Refused(
                    'refused',
                    sprintf(
                        'Group %d stands at %.2f V, under the floor of %.2f V: no current through this pack.',
                        $k + 1,
                        $v,
                        $record->pack->profile()->floorV,
                    ),
                );
            }
        }
        $spread = $groups === [] ? 0.0 : max($groups) - min($groups);
        if ($spread > RestSpread::lastLimit($record->pack->chemistry)) {
            throw new Refused(
                'refused',
                sprintf('The groups stand %.0f mV apart: they are balanced before they are charged as a pack.', 1000 * $spread),
            );
        }
        $this->watchesAll($bench);
        $amps = isset($data['supply_a']) ? (float) $data['supply_a'] : null;
        $c = $record->pack->groupCapacityAh() ?? 0.0;
        $most = $amps ?? $c * RunLimits::CHARGE_C ?: 1.0;

        return [
            ['group' => 0, 'plans' => [['kind' => 'charge', 'group' => null, 'plan_v' => array_sum($groups), 'plan_a' => $amps]]],
            (1.2 * $c) / $most,
            '',
        ];
    }

    /** A supply that cannot give what the run will order is not begun with. */
    private static function reaches(?Instrument $supply, RunPlan $plan): void
    {
        $plan->capacityAh();
        $most = $supply?->identity['max_v'] ?? null;
        if ($supply !== null && is_numeric($most) && $plan->volts() > (float) $most + 1e-6) {
            throw new Refused(
                'supply-short',
                sprintf('%s gives %.0f V at the most, this run wants %.1f V: choose another.', $supply->name, $most, $plan->volts()),
                422,
                ['supply_id' => 'It does not reach the voltage.'],
            );
        }
    }

    /** @param  array<string, Instrument|null>  $bench */
    private function watchesAll(array $bench): void
    {
        if ($bench['board'] === null) {
            throw new Refused('no-board', 'Every group must be seen at least once a minute: choose the board reader.', 422, [
                'board_id' => 'Identify it under Instruments first.',
            ]);
        }
        if ($bench['supply'] === null) {
            throw new Refused('no-supply', 'A whole pack is charged here only by a supply that switches itself off.', 422, [
                'supply_id' => 'Choose one.',
            ]);
        }
    }

    /** @return list<float|null> */
    private static function rest(JobRecord $record): array
    {
        return array_map(fn(GroupEvidence $e): ?float => $e->restV, (new PackEvidence($record))->groups);
    }

    private function instrument(Job $job, string $kind, mixed $id): ?Instrument
    {
        if ($id === null) {
            return null;
        }

        $found = Instrument::query()
            ->where('workshop_id', $job->workshop_id)
            ->where('kind', $kind)
            ->where('active', true)
            ->whereNotNull('checked_at')
            ->find((int) $id);

        /** @var Instrument|null $found */
        return $found ??
            throw new Refused('no-instrument', "This $kind is not known or not identified yet.", 422, [
                "{$kind}_id" => 'Identify it under Instruments first.',
            ]);
    }

    /** Closing time is the shop's own, whatever clock the server keeps. */
    private static function closing(Settings $settings): ?CarbonImmutable
    {
        $time = $settings->text('closes_at');

        return $time === '' ? null : CarbonImmutable::now($settings->text('timezone'))->setTimeFromTimeString($time)->utc();
    }
}
