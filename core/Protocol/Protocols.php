<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol;

use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Proof\Check;

/** All guided runs. A new one is a class in `Kind/` and a line here. */
final class Protocols
{
    private const ALL = [
        Kind\LoadStep::class,
        Kind\Capacity::class,
        Kind\FullCharge::class,
        Kind\FullDischarge::class,
        Kind\Hold::class,
        Kind\Refill::class,
        Kind\BoardCut::class,
        Kind\FirstCharge::class,
        Kind\Wake::class,
        Kind\GaugeRelearn::class,
        Kind\JointAgain::class,
        Kind\Insulation::class,
        Kind\ChargerTrial::class,
    ];

    /** @return list<Protocol> */
    public static function all(): array
    {
        return array_map(fn(string $class): Protocol => new $class(), self::ALL);
    }

    public static function of(string $code): ?Protocol
    {
        foreach (self::all() as $p) {
            if ($p->code() === $code) {
                return $p;
            }
        }

        return null;
    }

    /** The guided run that is the way of doing a test; null where it is one touch. */
    public static function for(TestKind $test): ?Protocol
    {
        foreach (self::all() as $p) {
            if (in_array($test, $p->tests(), true)) {
                return $p;
            }
        }

        return null;
    }

    /** The guided run that answers an acceptance check. */
    public static function proving(Check $check): ?Protocol
    {
        foreach (self::all() as $p) {
            if (in_array($check, $p->proves(), true)) {
                return $p;
            }
        }

        return null;
    }
}
