<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol\Kind;

use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Limits\ProtocolLimits;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Protocol\Course;
use Heartwood\Core\Protocol\Field;
use Heartwood\Core\Protocol\Outcome;
use Heartwood\Core\Protocol\Protocol;
use Heartwood\Core\Protocol\Ready;
use Heartwood\Core\Protocol\Step;
use Heartwood\Core\Protocol\TypedGroups;
use Heartwood\Core\Reading\TypedValue;

/** What each group takes when it is filled again after days: its leak, without any curve. */
final class Refill extends Protocol
{
    private const DAY_S = 86400.0;

    private const DAY_MIN = 1440.0;

    private const MONTH_D = 30.0;

    /** A leak is told from none at so many sigmas. */
    private const SIGMAS = 2.0;

    public function code(): string
    {
        return 'refill';
    }

    public function title(): string
    {
        return 'Fill it again after days';
    }

    public function why(): string
    {
        return 'Every group full, left alone a week or more, filled again: what each takes is what it lost. The one way on phosphate.';
    }

    public function charges(): bool
    {
        return true;
    }

    public function tests(): array
    {
        return [TestKind::Refill];
    }

    public function needs(Course $c): array
    {
        return [Ready::read($c), Ready::chargeable($c)];
    }

    public function steps(Course $c): array
    {
        $ah = $c->pack->groupCapacityAh();

        return [
            Step::do('filled', 'Fill every group singly, each until the current has tapered to a fiftieth of its capacity.')->in(
                'supply?do=balance',
                'Fill them at the supply',
            ),
            Step::wait(
                'alone',
                'Leave it alone for a week, sense plug out where the board draws from it.',
                ProtocolLimits::REFILL_DAYS * self::DAY_MIN,
            ),
            Step::ask('took', 'Fill each singly again, to the same taper. What did each take?', [
                Field::numbers('ah', 'Ah of each group, from B-', 0.0, $ah ?? self::MOST_AH),
            ])->in('supply?do=balance', 'Fill them at the supply'),
        ];
    }

    public function watch(Course $c): array
    {
        return Ready::warm($c, true);
    }

    public function outcome(Course $c): Outcome
    {
        $days = (($c->minutes('filled', 'took') ?? 0.0) * 60) / self::DAY_S;
        $took = array_map(
            fn(string $p): ?float => $p === '-' ? null : TypedValue::parse($p)?->volts,
            TypedGroups::split($c->values('took')->string('ah') ?? ''),
        );
        $ah = $c->pack->groupCapacityAh();
        $missing =
            $days < ProtocolLimits::REFILL_DAYS
                ? [sprintf('Only %.1f days: %.0f are wanted before it says anything.', $days, ProtocolLimits::REFILL_DAYS)]
                : [];
        if ($ah === null) {
            $missing[] = 'Nobody said what a group holds: what it lost is no share of anything.';
        }
        $read = array_filter($took, fn(?float $a): bool => $a !== null);
        if (count($read) < $c->pack->series) {
            $missing[] = 'Not every group was filled again.';
        }
        $tests = $reasons = [];
        $middle = $read === [] ? 0.0 : Robust::median(array_values($read));
        foreach ($read as $i => $a) {
            $tests[] = ['kind' => 'refill', 'scope' => ['group' => $i + 1], 'days' => round($days, 2), 'refill_ah' => $a];
            if ($ah === null || $days <= 0.0) {
                continue;
            }
            $month = (self::MONTH_D * ($a - $middle)) / $days / $ah;
            $sigma = (self::MONTH_D * sqrt(2) * ProtocolLimits::REFILL_SIGMA_AH) / $days / $ah;
            if ($month - self::SIGMAS * $sigma > VerdictLimits::LEAK_A_MONTH) {
                $reasons[] = sprintf(
                    'Group %d took %.3f Ah more than the middle one: it leaks %.0f %% a month.',
                    $i + 1,
                    $a - $middle,
                    100 * $month,
                );
            } elseif ($month + self::SIGMAS * $sigma > VerdictLimits::LEAK_A_MONTH) {
                $missing[] = sprintf(
                    'Group %d: %.0f %% a month, give or take %.0f: leave it longer.',
                    $i + 1,
                    100 * $month,
                    100 * self::SIGMAS * $sigma,
                );
            }
        }

        return Outcome::of(
            $reasons === [],
            $reasons === [] ? $missing : [],
            sprintf('The middle group took %.3f Ah after %.1f days', $middle, $days),
            $reasons,
            $tests,
        );
    }
}
