<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Reading\RestSpread;
use Heartwood\Core\Reading\Suspicion;
use Heartwood\Core\Repair\Option;
use Heartwood\Core\Repair\TopUp;
use Heartwood\Core\Rules;
use Heartwood\Core\Safety\Triage;

/** What is wrong, where, how sure, why, what next: the document heartwood.verdict, version 1. */
final readonly class Verdict
{
    /** Version of the rules; a verdict is kept with the version that gave it. */
    public const RULES = Rules::VERSION;

    /**
     * @param  list<array<string, mixed>>  $groups
     * @param  list<Finding>  $findings
     * @param  list<string>  $lacks
     * @param  list<NextTest>  $nextTests
     * @param  list<Option>  $options
     * @param  list<Suspicion>  $suspicions
     * @param  list<array{plain: string, missing: list<string>, overturn: string}>  $ledger  beside each finding
     * @param  array{group: int, steps: list<string>}|null  $parallel  how to find the one cell inside a group
     * @param  float|null  $leakReadyDays  days after the first rest reading from which a leak worth calling one shows
     */
    public function __construct(
        public Triage $triage,
        public array $groups,
        public array $findings,
        public ?UsableWindow $window,
        public array $lacks,
        public array $nextTests,
        public array $options,
        public array $suspicions,
        public ?RestSpread $spread,
        public int $redundancy,
        public string $inputHash,
        public string $priors,
        public array $ledger = [],
        public ?float $leakReadyDays = null,
        public ?array $parallel = null,
    ) {}

    /** @return array<string, mixed> the document of record.md, nothing more */
    public function toArray(): array
    {
        return [
            'format' => 'heartwood.verdict',
            'version' => 1,
            'rules' => self::RULES,
            'input_hash' => $this->inputHash,
            'priors' => $this->priors,
            'safety' => ['state' => $this->triage->state->value, 'reasons' => $this->triage->reasons],
            'groups' => array_map(
                fn(array $g): array => array_diff_key($g, ['basis' => 1, 'across' => 1, 'doubt' => 1, 'states' => 1, 'mohm' => 1]),
                $this->groups,
            ),
            'findings' => array_map(fn(Finding $f): array => $f->toArray(), $this->findings),
            'window' => $this->window?->toArray(),
            'lacks' => $this->lacks,
            'next_tests' => array_map(fn(NextTest $t): array => $t->toArray(), $this->nextTests),
            'options' => array_map(fn(Option $o): array => $o->toArray(), $this->options),
        ];
    }

    /** @return array<string, mixed> what the screens show beside it */
    public function detail(): array
    {
        return [
            'groups' => array_map(
                fn(array $g): array => array_intersect_key($g, [
                    'group' => 1,
                    'basis' => 1,
                    'across' => 1,
                    'doubt' => 1,
                    'states' => 1,
                    'mohm' => 1,
                ]),
                $this->groups,
            ),
            'spread' =>
                $this->spread === null
                    ? null
                    : [
                        'mv' => (int) round($this->spread->spreadV * 1000),
                        'class' => $this->spread->class,
                        'sentence' => $this->spread->sentence(),
                        'lowest' => $this->spread->lowest,
                        'highest' => $this->spread->highest,
                    ],
            'ledger' => $this->ledger,
            'leak_ready_days' => $this->leakReadyDays === null ? null : round($this->leakReadyDays, 1),
            'parallel' => $this->parallel,
            'redundancy' => $this->redundancy,
            'rules' => $this->triage->rules,
            'window' =>
                $this->window === null ? null : ['sentence' => $this->window->sentence(), 'capacity_basis' => $this->window->capacityBasis],
            'suspicions' => array_map(
                fn(Suspicion $s): array => [
                    'kind' => $s->kind,
                    'text' => $s->text,
                    'settle' => $s->settleText(),
                    'readings' => array_map(fn($r): string => $r->name(), $s->readings),
                ],
                $this->suspicions,
            ),
            'options' => array_map(
                fn(Option $o): array => [
                    'action' => $o->action->value,
                    'title' => $o->action->title(),
                    'why' => $o->why,
                    'hands_minutes' => $o->handsMinutes,
                    'wait_hours' => $o->waitHours,
                    'cells' => $o->cells,
                    'alters_pack' => $o->action->altersPack(),
                    'topups' => array_map(fn(TopUp $t): array => $t->toArray(), $o->topUps),
                ],
                $this->options,
            ),
        ];
    }
}
