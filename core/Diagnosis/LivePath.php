<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Inference\OutputPath;
use Heartwood\Core\Record\BenchTest;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Place;

/**
 * A complaint of a dead output that the bench does not confirm, and contacts of an output that lives (handbook "Protection, path,
 * sensing").
 */
final readonly class LivePath
{
    /** How often the device is at fault when its pack delivers on the bench (assumed). */
    private const DEVICE = 0.45;

    public function __construct(private JobRecord $record, private PackEvidence $evidence, private OutputPath $output) {}

    /** @return list<Finding> */
    public function findings(): array
    {
        return $this->livesAgainstComplaint()
            ? [
                new Finding(
                    'load.dead',
                    'The pack delivers: the device or its wiring is to be looked at',
                    Place::pack(),
                    self::DEVICE,
                    Faults::of('load.dead')->severity(),
                    [new Evidence('the customer finds it dead, the output lives on the bench', 6.0)],
                ),
            ]
            : [];
    }

    private function livesAgainstComplaint(): bool
    {
        return ($this->output->alive || $this->evidence->underLoad) &&
            !$this->output->dead &&
            $this->record->says('dead-output') &&
            $this->record->currentTests('load-check') === [] &&
            $this->record->currentTests('wake') === [];
    }

    /** @return list<NextTest> */
    public function tests(): array
    {
        if ($this->output->dead && !$this->output->alive) {
            return [];
        }
        $net = $this->output->net;
        $out = [];
        if ($this->record->currentTests('flex') === [] && $this->record->says('cuts-out-when-bumped', 'gauge-jumps')) {
            $out[] = $net->offer(
                TestKind::Flex,
                'Move wires and connectors while reading: a contact that fails shows.',
                FeatureKind::Flex,
                ['changes', 'same'],
            );
        }
        $measured =
            array_filter(
                $this->record->currentTests('continuity'),
                fn(BenchTest $t): bool => $t->data->string('element') === 'connector',
            ) !== [];
        if (!$measured && ($this->record->says('cuts-out-under-load', 'hot-in-use') || $net->p('path.connector') > 0.05)) {
            $out[] = $net->offer(TestKind::Continuity, 'Measure the drop across the connector under load.', FeatureKind::Connector, [
                'loses',
                'conducts',
            ]);
        }
        if ($this->livesAgainstComplaint()) {
            $out[] = new NextTest(
                TestKind::LoadCheck,
                Place::pack(),
                'Try the device on a good supply and measure its harness: the pack itself delivers.',
                TestKind::LoadCheck->minutes(),
                0.9,
            );
        }

        return $out;
    }
}
