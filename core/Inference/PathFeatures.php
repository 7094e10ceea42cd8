<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Feature\Feature;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Maths\Normal;
use Heartwood\Core\Record\BenchTest;
use Heartwood\Core\Record\JobRecord;

/** What was told and measured of the way out of the pack and into it, as features. */
final class PathFeatures
{
    /** Amps under which a drop across a connector is no evidence of what it loses. */
    private const LOADED_A = 0.2;

    /** Amps with which nothing across an element says that it conducts. */
    private const SOME_A = 0.001;

    /** What string and output move between two readings under load, volts, and what one meter makes of both, as a share (assumed). */
    private const MOVED_V = 0.02;

    /** See above. */
    private const GAIN_SHARE = 0.0005;

    /** How sure a loss under load must be, either way. */
    private const CLEARLY = 0.8;

    /** Ohms with the circuit dead from which an element is open. */
    public const OPEN_OHM = 5.0;

    /** Share of the pack's voltage that stands across an open element, and that a sound one stays under. */
    private const OPEN_SHARE = 0.3;

    private const SOUND_SHARE = 0.05;

    /** Ohms of a connector by itself, and watts lost in it, that no sound one has. */
    private const CONNECTOR_OHM = 0.03;

    private const CONNECTOR_W = 5.0;

    /** Ohms from the taps to the terminals from which a contact is suspect; board, shunt and wire stay well under it. */
    private const PATH_OHM = 0.06;

    private const PATH_SIGMA_OHM = 0.02;

    private const WAKES = [
        'charger-pulse' => FeatureKind::Pulse,
        'button' => FeatureKind::Button,
        'enable-wire' => FeatureKind::Enable,
        'bridge' => FeatureKind::Bridge,
        'reconnect' => FeatureKind::Reconnect,
        'device' => FeatureKind::Device,
    ];

    /**
     * What the customer tells: reported, never measured.
     *
     * @return list<Feature>
     */
    public static function told(JobRecord $record): array
    {
        $out = [];
        foreach (
            [
                [FeatureKind::Bumped, 'it cuts out when bumped'],
                [FeatureKind::Stored, 'it was stored for long'],
                [FeatureKind::ShortCircuited, 'it was short-circuited'],
                [FeatureKind::Reconnected, 'it came back before when it was reconnected'],
                [FeatureKind::GaugeJumps, 'its gauge jumps'],
                [FeatureKind::HotInUse, 'it gets hot in use'],
            ]
            as [$kind, $words]
        ) {
            if ($record->says($kind->value)) {
                $out[] = Feature::outcome($kind, 'said', $words, 'reported');
            }
        }

        return $out;
    }

    /**
     * What the board reports of itself.
     *
     * @return list<Feature>
     */
    public static function flags(PackEvidence $evidence): array
    {
        $out = [];
        if (array_intersect(['under-temperature', 'over-temperature'], $evidence->boardFlags) !== [] && $evidence->temperate()) {
            $out[] = Feature::outcome(FeatureKind::Flag, 'reported', 'the board reports a temperature that is not there', 'reported');
        }
        if (in_array('over-current', $evidence->boardFlags, true)) {
            $out[] = Feature::outcome(FeatureKind::OverCurrent, 'reported', 'the board reports an over-current', 'reported');
        }

        return $out;
    }

    /**
     * The tests of the path, each as it came out.
     *
     * @return list<Feature>
     */
    public static function tested(JobRecord $record, PackEvidence $evidence): array
    {
        $out = [];
        foreach ($record->currentTests() as $t) {
            $feature = match ($t->kind) {
                'wake' => self::wake($t),
                'continuity' => self::continuity($t, max(1.0, $evidence->rest->packV ?? $record->pack->fullVolts())),
                'flex' => Feature::outcome(
                    FeatureKind::Flex,
                    $t->data->bool('changed') === true ? 'changes' : 'same',
                    $t->data->bool('changed') === true
                        ? sprintf(
                            'the reading changes when the %s is flexed',
                            str_replace('-', ' ', $t->data->string('element') ?? 'wiring'),
                        )
                        : 'nothing changes when it is flexed',
                ),
                'sensor' => self::sensor($t),
                default => null,
            };
            if ($feature !== null) {
                $out[] = $feature;
            }
        }

        return $out;
    }

    private static function wake(BenchTest $t): ?Feature
    {
        $kind = self::WAKES[(string) $t->data->string('action')] ?? null;
        $name = str_replace('-', ' ', (string) $t->data->string('action'));

        return $kind === null
            ? null
            : Feature::outcome(
                $kind,
                $t->data->bool('woke') === true ? 'woke' : 'nothing',
                $t->data->bool('woke') === true ? "it woke with: $name" : "it did not wake with: $name",
            );
    }

    private static function continuity(BenchTest $t, float $packV): ?Feature
    {
        $element = (string) $t->data->string('element');
        $kind = ['fuse' => FeatureKind::Fuse, 'switch' => FeatureKind::Switch, 'connector' => FeatureKind::Connector][$element] ?? null;
        $ohm = $t->data->float('ohm');
        $drop = $t->data->float('drop_v');
        $amps = abs($t->data->float('current_a') ?? 0.0);

        return match (true) {
            $kind === null => null,
            $ohm !== null && $kind === FeatureKind::Connector && $ohm > self::CONNECTOR_OHM && $ohm <= self::OPEN_OHM => Feature::outcome(
                $kind,
                'loses',
                sprintf('the connector by itself measures %.0f mohm', 1000 * $ohm),
            ),
            $ohm !== null => Feature::outcome(
                $kind,
                $ohm > self::OPEN_OHM ? 'open' : 'conducts',
                sprintf('the %s measures %.3g ohm with the circuit dead', $element, $ohm),
            ),
            $drop === null => null,
            abs($drop) > self::OPEN_SHARE * $packV => Feature::outcome(
                $kind,
                'open',
                sprintf('%.1f V stands across the %s', abs($drop), $element),
            ),
            $kind === FeatureKind::Connector &&
                $amps > self::LOADED_A &&
                (abs($drop) / $amps > self::CONNECTOR_OHM || abs($drop) * $amps > self::CONNECTOR_W)
                => Feature::outcome(
                $kind,
                'loses',
                sprintf('%.2f V, %.1f W are lost in the connector at %.3g A', abs($drop), abs($drop) * $amps, $amps),
            ),
            // Unloaded, nothing across it is no evidence.
            $amps > self::SOME_A && abs($drop) < self::SOUND_SHARE * $packV => Feature::outcome(
                $kind,
                'conducts',
                sprintf('only %.2f V across the %s with a load on', abs($drop), $element),
            ),
            default => null,
        };
    }

    /**
     * What the output loses against the string when current flows, less what it loses at rest.
     *
     * @return list<Feature>
     */
    public static function underLoad(PackEvidence $evidence, bool $alive): array
    {
        $worst = null;
        foreach ($evidence->record->current() as $m) {
            if (!$m->underCurrent() || $m->fromBoard) {
                continue;
            }
            $string = $evidence->solved($m)->packV;
            foreach ($m->readings as $r) {
                if ($string === null || !$r->isOutput()) {
                    continue;
                }
                $atRest =
                    $evidence->rest?->packV !== null && $evidence->outputV !== null && $alive
                        ? $evidence->rest->packV - $evidence->outputV
                        : 0.0;
                // The string as it stood when the output was read: it sinks while the probe walks up the pack.
                $ohm = -($string + $evidence->moved($m, $r) - abs($r->volts) - $atRest) / $m->currentA;
                // One meter for both: its gain cancels but for what the string itself moved.
                $sigma = hypot(self::MOVED_V, self::GAIN_SHARE * $string) / abs($m->currentA);
                $worst = $worst === null || $ohm > $worst[0] ? [$ohm, $sigma] : $worst;
            }
        }
        if ($worst === null) {
            return [];
        }
        $bad = Normal::cumulative(($worst[0] - self::PATH_OHM) / hypot(self::PATH_SIGMA_OHM, $worst[1]));
        $words = sprintf('from the taps to the terminals %.0f mohm are lost under load', 1000 * $worst[0]);

        return $bad > self::CLEARLY
            ? [Feature::outcome(FeatureKind::Connector, 'loses', "$words, the groups do not sag with it", 'derived')]
            : ($bad < 1 - self::CLEARLY
                ? [Feature::outcome(FeatureKind::Connector, 'conducts', $words, 'derived')]
                : []);
    }

    private static function sensor(BenchTest $t): ?Feature
    {
        $off = $t->sensorOff();

        return $off === null
            ? null
            : Feature::outcome(
                FeatureKind::Sensor,
                $off ? 'off' : 'right',
                sprintf(
                    'the sensor measures %.0f ohm where %.0f are expected',
                    (float) $t->data->float('ohm'),
                    (float) $t->data->float('expected_ohm'),
                ),
            );
    }
}
