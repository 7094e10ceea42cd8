<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol;

use Heartwood\Core\Diagnosis\ChargerTrial;
use Heartwood\Core\Limits\ProtocolLimits;
use Heartwood\Core\Record\Fields;

/** One cycle of a charger trial: what was set before, and what it did. */
final readonly class Cycle
{
    public function __construct(public Fields $begin, public Fields $end) {}

    public function mode(): string
    {
        return $this->begin->string('mode') ?? '';
    }

    /** @return list<string> stages that no charger for these cells has */
    public function foreign(): array
    {
        return array_values(array_intersect($this->end->strings('stages'), ChargerTrial::FOREIGN));
    }

    /** Whether it came back in another mode than it was set to. */
    public function slipped(): bool
    {
        $after = $this->end->string('mode_after');

        return $after !== null && $after !== $this->mode();
    }

    public function overnight(): bool
    {
        return ($this->end->float('hours') ?? 0.0) >= ProtocolLimits::OVERNIGHT_H;
    }

    /** Whether it did what it must not. */
    public function fault(): bool
    {
        return $this->end->bool('fault_seen') === true ||
            $this->end->bool('board_cut') === true ||
            $this->foreign() !== [] ||
            $this->slipped();
    }

    /** What it did, in a sentence. */
    public function said(): string
    {
        $did = array_filter([
            $this->end->bool('fault_seen') === true ? 'the fault was seen' : null,
            $this->end->bool('board_cut') === true ? 'the board had to cut' : null,
            $this->foreign() === [] ? null : 'it has a stage of another kind of battery (' . implode(', ', $this->foreign()) . ')',
            $this->slipped()
                ? sprintf(
                    'it was in "%s" afterwards%s',
                    $this->end->string('mode_after'),
                    $this->end->bool('mains_lost') === true ? ', the mains were lost in between' : '',
                )
                : null,
        ]);

        return sprintf('In "%s": %s.', $this->mode(), $did === [] ? 'nothing that it must not' : implode('; ', $did));
    }

    /** @return array<string, mixed> a cycle of the record's test */
    public function record(): array
    {
        return [
            'mode' => $this->mode(),
            'selected_by' => $this->begin->string('selected_by') ?? 'unknown',
            'from' => $this->begin->string('from') ?? 'half',
            'hours' => $this->end->float('hours'),
            'open_v' => $this->end->float('open_v'),
            'end_v' => $this->end->float('end_v'),
            'highest_group_v' => $this->end->float('highest_group_v'),
            'stages' => $this->end->strings('stages'),
            'board_cut' => $this->end->bool('board_cut'),
            'mains_lost' => $this->end->bool('mains_lost'),
            'mode_after' => $this->end->string('mode_after'),
            'fault_seen' => $this->end->bool('fault_seen'),
        ];
    }
}
