<?php

declare(strict_types=1);

namespace App\Http\Views;

use App\Actions\AssessSafety;
use App\Actions\BuildRecord;
use App\Actions\Decide;
use App\Actions\Gatekeeper;
use App\Actions\IssueVerdict;
use App\Actions\MoveJob;
use App\Actions\Prove;
use App\Actions\ReadingRow;
use App\Actions\Version;
use App\Models\BenchTest;
use App\Models\Decision;
use App\Models\Event;
use App\Models\Job;
use App\Models\JointCheck;
use App\Models\Measurement;
use App\Models\Person;
use App\Models\ProofEntry;
use App\Models\SignOff;
use App\Models\TrainingCase;
use App\Models\Verdict;
use App\Read\Comebacks;
use App\Read\GuidedRuns;
use App\Read\JobLines;
use App\Read\KnownPack;
use App\Read\Looks;
use App\Read\OwnMinutes;
use App\Read\Passport;
use App\Read\Plans;
use App\Read\WorkSteps;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Diagnosis\Statements;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Money\Prices;
use Heartwood\Core\Pack\LabelCheck;
use Heartwood\Core\Proof\CheckResult;
use Heartwood\Core\Protocol\Protocols;
use Heartwood\Core\Reading\ProbePlanner;
use Heartwood\Core\Reading\RestSpread;
use Heartwood\Core\Reading\SetsCompared;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\Instrument;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Repair\Combined;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Safety\Cautions;
use Heartwood\Core\Safety\EnergyAtRisk;
use Heartwood\Core\Safety\LookAgain;
use Heartwood\Core\Schedule\Stage;
use Heartwood\Core\Shop\Schools;
use Heartwood\Core\Work\PlainReport;
use Heartwood\Core\Work\Proved;
use Illuminate\Support\Collection;

/** One job as its screens need it, in a number of queries that does not grow with the workshop. */
final class JobView
{
    /** @return array<string, mixed> */
    public static function of(Job $job, Person $person): array
    {
        $job->load('customer');
        $measurements = $job->measurements()->with('person')->get();
        $live = ReadingRow::live($job);
        $tests = $job->benchTests()->with('person')->get();
        $events = Event::query()->where('job_id', $job->id)->with('person')->orderByDesc('id')->limit(60)->get();
        $record = BuildRecord::from($job, $measurements, $live, $tests, BuildRecord::packEvents($job));
        // Assembled once for all that the page shows of it.
        $parsed = JobRecord::fromArray($record);
        $evidence = new PackEvidence($parsed);
        $verdict = Verdict::query()->where('job_id', $job->id)->latest('id')->first();
        $decision = Decision::query()->where('job_id', $job->id)->with('person')->latest('id')->first();
        $entries = ProofEntry::query()->where('job_id', $job->id)->orderBy('id')->get();
        $sign = SignOff::query()->where('job_id', $job->id)->where('revision', $job->revision)->with('person')->first();

        $guided = GuidedRuns::under([$job->id]);
        $view = [
            ...JobRow::of($job, null, '', $guided[$job->id] ?? null),
            'complaint' => $job->complaint,
            'pack' => $job->pack,
            'symptoms' => $job->symptoms,
            'inspection' => (object) $job->inspection,
            'revision' => $job->revision,
            'revisions' => $job
                ->revisions()
                ->with('person')
                ->get()
                ->map(
                    fn($r): array => [
                        'number' => $r->number,
                        'reason' => $r->reason,
                        'by' => $r->person->name,
                        'at' => $r->opened_at->toIso8601ZuluString(),
                    ],
                )
                ->all(),
            'label_mismatches' => LabelCheck::mismatches(PackSpec::from(new Fields($job->pack)), $job->inspection['cells_counted'] ?? null),
            'full_v' => round(PackSpec::from(new Fields($job->pack))->fullVolts(), 2),
            'energy' => EnergyAtRisk::of($parsed->pack, $evidence)?->sentence(),
            'probe_plan' => self::probePlan($job),
            'version' => Version::tag($job),
            'safety_reasons' => $job->safety_reasons,
            'agreed' => ConsentView::agreed($job)[0] ?? null,
            'others' => KnownPack::others($job),
            'rules' => AssessSafety::triage($job)->rules,
            'unseen' => LookAgain::unseen(new Fields($job->inspection ?? [])),
            'look' => self::look($job),
            'held_since' => $job->held_since?->toIso8601ZuluString(),
            'gates' => (object) Gatekeeper::overview($job, $person),
            'measurements' => ($sets = self::measurements($measurements, $live, $evidence)),
            'line' => JobLines::of($job, $measurements, BuildRecord::live($tests))->toArray(),
            'sets' => self::sets($job, $sets)->toArray(),
            'tests' => BuildRecord::live($tests)
                ->map(
                    fn(BenchTest $t): array => [
                        'id' => $t->id,
                        'kind' => $t->kind,
                        'revision' => $t->revision,
                        'data' => (object) $t->data,
                        'by' => $t->person->name,
                        'at' => $t->taken_at->toIso8601ZuluString(),
                    ],
                )
                ->values()
                ->all(),
            'verdict' =>
                $verdict === null
                    ? null
                    : [
                        'id' => $verdict->id,
                        'revision' => $verdict->revision,
                        'issued_at' => $verdict->issued_at->toIso8601ZuluString(),
                        'stale' => $verdict->hash !== IssueVerdict::hash($job, $record),
                        'document' => $verdict->document,
                        'detail' => self::priced($job, $verdict, $person),
                    ],
            'decision' => $decision === null ? null : self::decision($decision, $verdict),
            'proof' => self::proof($job, $parsed, $entries, $evidence),
            'guided' => GuidedRuns::listed($job),
            'pack_code' => $job->itsPack === null ? null : Passport::code($job->itsPack->code),
            'may_take_back' => MoveJob::mayTakeBack($job),
            'training_case' => $job->status === 'open' ? null : TrainingCase::query()->where('job_id', $job->id)->value('number'),
            'comeback' => Comebacks::of($job, $verdict->document['findings'] ?? []),
            'promise' => self::promise($job),
            'sign_off' =>
                $sign === null
                    ? null
                    : ['by' => $sign->person->name, 'at' => $sign->signed_at->toIso8601ZuluString(), 'reason' => $sign->reason],
            'watched' => self::watched($job),
            'events' => $events
                ->map(
                    fn(Event $e): array => [
                        'kind' => $e->kind,
                        'by' => $e->person?->name,
                        'at' => $e->at->toIso8601ZuluString(),
                        'data' => (object) $e->data,
                    ],
                )
                ->all(),
            'cautions' => array_combine(
                array_column(Stage::cases(), 'value'),
                array_map(fn(Stage $s): array => Cautions::at($s->value), Stage::cases()),
            ),
        ];

        return $view + ['plain' => self::plain($job, $view)];
    }

    /**
     * @param  array<string, mixed>  $view
     * @return list<array{title: string, lines: list<string>}> what the owner is told first
     */
    private static function plain(Job $job, array $view): array
    {
        return PlainReport::of(
            $job->complaint,
            $view['decision']['found']['findings'] ?? ($view['verdict']['document']['findings'] ?? null),
            $view['decision']['said'] ?? null,
            $view['decision']['steps'] ?? [],
            $view['proof'],
            $view['watched'],
            array_values(
                JointCheck::query()
                    ->where('job_id', $job->id)
                    ->whereNull('done_at')
                    ->orderBy('tap')
                    ->get()
                    ->map(fn(JointCheck $c): string => "The joint at T$c->tap is looked at again on {$c->due_at->format('j F Y')}.")
                    ->all(),
            ),
            $view['decision']['topups'] ?? [],
            $view['sign_off'] === null ? null : $view['promise']['sentence'] ?? null,
        );
    }

    /** @return array{months: int, sentence: string, kept: bool}|null what is promised of the work; null of a pack that is none any more */
    private static function promise(Job $job): ?array
    {
        $kept = $job->status === 'returned' ? Comebacks::promise(Comebacks::closed($job)) : null;
        $promise = $kept ?? ($job->status === 'open' ? Comebacks::offered($job->workshop) : null);

        return $promise === null ? null : ['months' => $promise->months, 'sentence' => $promise->sentence(), 'kept' => $kept !== null];
    }

    /** @return array<string, mixed>|null which look at the pack is owed */
    private static function look(Job $job): ?array
    {
        $due = Looks::due($job);

        return $due === null ? null : ['moment' => $due->moment, 'text' => $due->text, 'second_person' => $due->secondPerson];
    }

    /**
     * @param  Collection<int, Measurement>  $measurements
     * @param  array<string, list<ReadingRow>>  $live  readings that count, by set
     * @return list<array<string, mixed>>
     */
    private static function measurements(Collection $measurements, array $live, PackEvidence $evidence): array
    {
        $groups = $evidence->bySet();

        return array_values(
            $measurements
                ->map(
                    fn(Measurement $m): array => [
                        'id' => $m->id,
                        'condition' => $m->condition,
                        'revision' => $m->revision,
                        'at' => $m->taken_at->toIso8601ZuluString(),
                        'by' => $m->person->name,
                        'data' => (object) $m->data,
                        'groups_v' => $groups[$m->id]['volts'] ?? [],
                        'groups_sigma_v' => $groups[$m->id]['sigma'] ?? [],
                        'readings' => array_map(fn(ReadingRow $r): array => $r->shown(), $live[$m->id] ?? []),
                    ],
                )
                ->all(),
        );
    }

    /** @param  list<array<string, mixed>>  $measurements  as they are answered */
    private static function sets(Job $job, array $measurements): SetsCompared
    {
        return SetsCompared::of(
            array_values(
                array_map(
                    fn(array $m): array => [
                        'id' => (string) $m['id'],
                        'at' => (string) $m['at'],
                        'condition' => (string) $m['condition'],
                        'amps' => (new Fields((array) $m['data']))->float('current_a') ?? 0.0,
                        'volts' => $m['groups_v'],
                        'sigma' => $m['groups_sigma_v'],
                    ],
                    array_filter($measurements, fn(array $m): bool => $m['revision'] === $job->revision),
                ),
            ),
        );
    }

    /**
     * What the customer must know for as long as the pack lives: recovered groups, exceptions, overrides.
     *
     * @return list<string>
     */
    private static function watched(Job $job): array
    {
        $out = [];
        foreach (
            Event::query()
                ->where('job_id', $job->id)
                ->whereIn('kind', ['watch', 'run-started'])
                ->orderBy('id')
                ->get()
            as $e
        ) {
            if ($e->kind === 'watch') {
                $out[] = (string) ($e->data['text'] ?? '');
            } elseif (($e->data['reason'] ?? '') !== '') {
                $out[] = sprintf(
                    '%s, by a senior\'s decision: %s',
                    $e->data['kind'] === 'bypass' ? 'Charged past its board' : "Group {$e->data['group']} recovered from under its floor",
                    $e->data['reason'],
                );
            }
        }

        return array_values(array_unique(array_filter($out)));
    }

    /** What a coarse run can see on this string with a plain meter. */
    private static function probePlan(Job $job): string
    {
        $pack = PackSpec::from(new Fields($job->pack));

        return ProbePlanner::plan(
            Instrument::from(new Fields(['resolution_v' => 0.001])),
            $pack->series,
            $pack->profile()->nominalV,
            RestSpread::LIMITS['balance-soon'],
        )['text'];
    }

    /** @return array<string, mixed> the verdict's detail, each option with its quote and whether this person may choose it */
    private static function priced(Job $job, Verdict $verdict, Person $person): array
    {
        // A verdict that older rules gave knows less; it is read again as soon as somebody looks at it.
        $detail = $verdict->detail + ['ledger' => [], 'leak_ready_days' => null, 'parallel' => null];
        $detail['statements'] = Statements::of($verdict->document['findings']);
        $prices = Prices::of($person->workshop->said());
        $schools = Schools::of($person->workshop->said());
        $listed = Decide::listed($job);
        $own = OwnMinutes::of($job->workshop_id);
        foreach ($detail['options'] as $i => $option) {
            $whole = OwnMinutes::in(array_replace($option, $verdict->document['options'][$i]), $own);
            $quote = Decide::price($job, $whole, $prices, $listed);
            $detail['options'][$i]['hands_minutes'] = $whole['hands_minutes'];
            $detail['options'][$i]['hands_from'] = $whole['hands_from'] ?? null;
            $detail['options'][$i]['quote'] = $quote->toArray();
            $action = RepairAction::from($option['action']);
            $detail['options'][$i]['said'] = Plans::said($verdict->document['options'][$i]);
            $detail['options'][$i]['school'] = $schools->says($action);
            $detail['options'][$i]['steps'] = WorkSteps::planned($action);
            $detail['options'][$i]['joins'] = Combined::may($action);
        }

        return $detail;
    }

    /** @return array<string, mixed> */
    private static function decision(Decision $decision, ?Verdict $latest): array
    {
        $found = self::found($decision, $latest);
        $steps = WorkSteps::of($decision);

        return [
            'id' => $decision->id,
            'action' => $decision->action,
            'option' => (object) $decision->option,
            'said' => Plans::said(['action' => $decision->action] + $decision->option),
            'quote' => (object) $decision->quote,
            'reason' => $decision->reason,
            'by' => $decision->person->name,
            'at' => $decision->decided_at->toIso8601ZuluString(),
            'found' => $found,
            'proved' => self::proved($decision, $latest, $found, $steps),
            'left' => array_map(fn(string $c): string => Faults::of($c)->words()->plain, array_values($decision->option['leaves'] ?? [])),
            'steps' => $steps,
            'topups' => array_values((array) ($decision->option['topups'] ?? [])),
        ];
    }

    /**
     * @param  array<string, mixed>  $found
     * @param  list<array<string, mixed>>  $steps
     * @return list<array<string, mixed>> what the work has proved of what was found
     */
    private static function proved(Decision $decision, ?Verdict $latest, array $found, array $steps): array
    {
        $parts = array_values(
            array_map(
                fn(array $p): array => [
                    'action' => (string) $p['action'],
                    'where' => array_values(array_filter((array) ($p['where'] ?? []))),
                    'done' =>
                        array_filter(
                            $steps,
                            fn(array $s): bool => ($s['action'] ?? $decision->action) === $p['action'] &&
                                $s['alters'] &&
                                $s['state'] !== 'done',
                        ) === [],
                ],
                $decision->option['parts'] ?? [['action' => $decision->action] + $decision->option],
            ),
        );

        return Proved::of(
            $found['findings'],
            $latest === null || $latest->id === $decision->verdict_id ? null : $latest->document['findings'],
            $parts,
            array_values($decision->option['leaves'] ?? []),
        );
    }

    /** @return array<string, mixed> the verdict that the decision was made on: what was found before the work */
    private static function found(Decision $decision, ?Verdict $latest): array
    {
        $verdict =
            $latest !== null && $latest->id === $decision->verdict_id
                ? $latest
                : Verdict::query()->whereKey($decision->verdict_id)->firstOrFail();

        return [
            'verdict_id' => $verdict->id,
            'revision' => $verdict->revision,
            'groups' => $verdict->document['groups'],
            'findings' => $verdict->document['findings'],
            'statements' => Statements::of($verdict->document['findings']),
        ];
    }

    /**
     * @param  Collection<int, ProofEntry>  $entries
     * @return list<array<string, mixed>>
     */
    private static function proof(Job $job, JobRecord $record, Collection $entries, PackEvidence $evidence): array
    {
        return array_map(
            fn(CheckResult $r): array => $r->toArray() + [
                'guided' => Protocols::proving($r->check)?->code(),
                'entered' =>
                    (object) ($entries->where('revision', $job->revision)->where('check_code', $r->check->value)->last()->data ?? []),
            ],
            Prove::results($job, $record, $entries, $evidence),
        );
    }
}
