<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

use Heartwood\Core\Feature\FeatureKind;

/** What is seen of the way out and in where no fault speaks of it (assumed). */
final class Background
{
    public static function of(FeatureKind $kind): Chance
    {
        return new Chance(
            match ($kind) {
                FeatureKind::Fuse => ['open' => 0.003, 'conducts' => 0.997],
                FeatureKind::Switch => ['open' => 0.01, 'conducts' => 0.99],
                FeatureKind::Connector => ['open' => 0.002, 'loses' => 0.0003, 'conducts' => 0.9977],
                FeatureKind::Flex => ['changes' => 0.02, 'same' => 0.98],
                FeatureKind::Sensor => ['off' => 0.005, 'right' => 0.995],
                FeatureKind::Flag => ['reported' => 0.006],
                FeatureKind::OverCurrent => ['reported' => 0.05],
                FeatureKind::Pulse,
                FeatureKind::Button,
                FeatureKind::Enable,
                FeatureKind::Bridge,
                FeatureKind::Reconnect,
                FeatureKind::Device
                    => ['woke' => 0.04, 'nothing' => 0.96],
                FeatureKind::Alive, FeatureKind::GaveCurrent, FeatureKind::TookCharge => ['alive' => 0.97, 'flowed' => 0.97, 'fed' => 0.97],
                FeatureKind::Charger => ['good' => 0.9, 'dead' => 0.02, 'wrong' => 0.08],
                FeatureKind::Port => ['stands' => 0.4, 'absent' => 0.6],
                FeatureKind::Bumped => ['said' => 0.008],
                FeatureKind::Stored => ['said' => 0.12],
                FeatureKind::ShortCircuited => ['said' => 0.03],
                FeatureKind::Reconnected => ['said' => 0.06],
                FeatureKind::GaugeJumps => ['said' => 0.04],
                FeatureKind::HotInUse => ['said' => 0.03],
                FeatureKind::BoardStopped => ['board' => 0.1],
                default => ['said' => 0.1],
            },
        );
    }
}
