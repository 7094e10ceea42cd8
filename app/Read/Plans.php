<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\BuildRecord;
use App\Actions\Decide;
use App\Actions\Refused;
use App\Models\Job;
use App\Models\Verdict;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Repair\Combined;
use Heartwood\Core\Repair\Option;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Twin\Replay;
use Heartwood\Core\Twin\TwinPack;
use Heartwood\Core\Work\ClosedBy;

/** Options of the latest verdict put together to one plan: its price, its time, what it brings and what it leaves. Computed only. */
final class Plans
{
    /**
     * One option as the verdict has it, or several as one.
     *
     * @param  list<string>  $actions
     * @return array<string, mixed> as an option of the verdict; of several with `parts`, each its action, title and places
     *
     * @throws Refused the verdict does not offer one of them, or they are no plan together
     */
    public static function option(Job $job, Verdict $verdict, array $actions): array
    {
        $chosen = [];
        $own = OwnMinutes::of($job->workshop_id);
        foreach (array_values(array_unique($actions)) as $action) {
            $index = array_search($action, array_column($verdict->document['options'], 'action'), true);
            if ($index === false) {
                throw new Refused('no-such-option', 'This verdict does not offer that option.', 422, [
                    'action' => 'Choose one of the plan.',
                ]);
            }
            $chosen[] = OwnMinutes::in(array_replace($verdict->detail['options'][$index], $verdict->document['options'][$index]), $own);
        }
        if (count($chosen) === 1) {
            return $chosen[0];
        }
        $options = self::options($chosen);
        $against = Combined::against($options);
        if ($against !== null) {
            throw new Refused('no-plan', $against, 422, ['with' => $against]);
        }
        $options = Combined::shared($options);
        [$ah, $sentence] = self::predicted($job, $options);
        $one = Combined::of($options, $ah);

        return [
            ...$one->toArray(),
            'title' => Combined::title($options),
            'said' => Combined::title($options),
            'why' => $one->why,
            'cells' => $one->cells,
            'hands_minutes' => $one->handsMinutes,
            'wait_hours' => $one->waitHours,
            'sentence' => $sentence,
            'topups' => self::keptLeaking($chosen, $options),
            'parts' => array_map(
                fn(Option $o): array => [
                    'action' => $o->action->value,
                    'title' => $o->action->title(),
                    'said' => $o->action->at(array_map(fn(Place $p): ?array => $p->toArray(), $o->places)),
                    'where' => array_values(array_filter(array_map(fn(Place $p): ?array => $p->toArray(), $o->places))),
                ],
                $options,
            ),
        ];
    }

    /**
     * @param  list<array<string, mixed>>  $chosen
     * @param  list<Option>  $options
     * @return list<array<string, mixed>> intervals of groups that leak and are not replaced by the same plan
     */
    private static function keptLeaking(array $chosen, array $options): array
    {
        $gone = [];
        foreach ($options as $o) {
            if (in_array($o->action, [RepairAction::ReplaceGroup, RepairAction::ReplaceCell], true)) {
                $gone = [...$gone, ...array_map(fn(Place $p): int => $p->number, $o->places)];
            }
        }
        $all = array_merge(...array_map(fn(array $c): array => $c['topups'] ?? [], $chosen));

        return array_values(array_filter($all, fn(array $t): bool => !in_array($t['group'], $gone, true)));
    }

    /** @param  array<string, mixed>  $option  of a verdict, or as a decision keeps it: what is done, and where */
    public static function said(array $option): string
    {
        return RepairAction::together(
            array_map(
                fn(array $p): array => ['action' => (string) $p['action'], 'where' => array_values((array) ($p['where'] ?? []))],
                array_values((array) ($option['parts'] ?? [$option])),
            ),
        );
    }

    /**
     * The steps of a plan, each with the part that it belongs to.
     *
     * @param  array<string, mixed>  $option  as `option` gives it
     * @return list<array<string, mixed>>
     */
    public static function steps(array $option): array
    {
        return array_map(
            fn(array $r): array => [
                ...$r['step']->toArray(),
                'action' => $r['action']->value,
                ...$r['places'] === null
                    ? []
                    : ['where' => array_values(array_filter(array_map(fn(Place $p): ?array => $p->toArray(), $r['places'])))],
            ],
            Combined::steps(self::options($option['parts'] ?? [$option])),
        );
    }

    /**
     * @param  list<string>  $actions
     * @return array<string, mixed> a plan of several as the screen shows it before it is decided
     */
    public static function of(Job $job, Verdict $verdict, array $actions): array
    {
        $option = self::option($job, $verdict, $actions);

        return $option + [
            'sentence' => '',
            'parts' => [],
            'quote' => Decide::quote($job, $option)->toArray(),
            'steps' => array_map(function (array $s): array {
                $action = RepairAction::from($s['action']);
                $by = ClosedBy::of($action, $s['code']);

                return ['title' => $s['title'], 'room' => $by->room($action, $s['code']), 'door' => $by->door($s['code'])];
            }, self::steps($option)),
        ];
    }

    /**
     * @param  list<array<string, mixed>>  $parts
     * @return list<Option>
     */
    private static function options(array $parts): array
    {
        return array_map(
            fn(array $o): Option => new Option(
                RepairAction::from((string) $o['action']),
                array_map(fn(array $w): Place => Place::from(new Fields($w)), array_values(array_filter((array) ($o['where'] ?? [])))),
                null,
                array_values((array) ($o['leaves'] ?? [])),
                (string) ($o['why'] ?? ''),
                (int) ($o['cells'] ?? 0),
                isset($o['hands_minutes']) ? (int) $o['hands_minutes'] : null,
                isset($o['wait_hours']) ? (float) $o['wait_hours'] : null,
            ),
            $parts,
        );
    }

    /**
     * @param  list<Option>  $options  in order
     * @return array{float|null, string} Ah, and in words what ends it; null where the pack cannot be run
     */
    private static function predicted(Job $job, array $options): array
    {
        $record = JobRecord::fromArray(BuildRecord::of($job));
        $evidence = new PackEvidence($record);
        $pack = TwinPack::estimate($record->pack, $evidence);
        if ($pack === null) {
            return [null, ''];
        }
        $replay = new Replay($record->pack, $pack, TwinPack::estimate($record->pack, $evidence, false));
        $after = $replay->afterAll($options);
        if ($after === null) {
            return [null, ''];
        }
        $run = $replay->usable($after);

        return [round($run->ah, 1), ucfirst("charged and used, {$run->sentence()}") . '.'];
    }
}
