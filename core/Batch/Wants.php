<?php

declare(strict_types=1);

namespace Heartwood\Core\Batch;

use Heartwood\Core\Limits\BatchLimits;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Recovery\RecoveryPlan;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Safety\SafetyState;
use Heartwood\Core\Schedule\Stage;

/** What one pack of a lot wants next: hands for so many minutes, a supply for so many hours, or nothing but time. */
final readonly class Wants
{
    /**
     * @param  'held'|'supply'|'shelf'|'probe'|'decide'|'work'|'proof'|'back'|'done'  $lane  where it stands
     * @param  int  $minutes  of hands
     * @param  float  $hours  on a supply, attended; 0.0: it needs none
     * @param  bool  $shelf  whether it rests on the shelf for its hold test after that
     */
    private function __construct(public string $lane, public string $text, public int $minutes, public float $hours, public bool $shelf) {}

    /**
     * @param  string  $status  open | returned | scrapped
     * @param  string|null  $waits  what it waits for, where that is still to come
     * @param  array{action: string, minutes: int, hours: float|null}|null  $decided
     * @param  bool  $runs  whether it is on a supply now
     */
    public static function of(
        PackSpec $pack,
        string $status,
        string $stage,
        SafetyState $safety,
        ?string $waits,
        bool $runs,
        ?float $cameV,
        ?array $decided,
    ): self {
        return match (true) {
            $status !== 'open' => new self('done', $status === 'returned' ? 'went back' : 'ended here', 0, 0.0, false),
            $safety !== SafetyState::Clear => new self(
                'held',
                $safety === SafetyState::Quarantine ? 'in quarantine: outside or in the fire-safe box' : 'on hold: a senior decides',
                0,
                0.0,
                false,
            ),
            $runs => new self('supply', 'on a supply now', 0, 0.0, false),
            $waits !== null => new self('shelf', $waits === '' ? 'waits' : $waits, 0, 0.0, false),
            $stage === Stage::Work->value && $decided !== null => self::work($decided),
            $stage === Stage::Proof->value => new self('proof', 'to be proved', BatchLimits::PROOF_MIN, 0.0, false),
            $stage === Stage::Report->value => new self('back', 'to be handed back', BatchLimits::RETURN_MIN, 0.0, false),
            in_array($stage, [Stage::Verdict->value, Stage::Plan->value], true) => new self(
                'decide',
                'verdict to be read, way to be chosen',
                BatchLimits::DECIDE_MIN,
                0.0,
                false,
            ),
            default => self::probe($pack, $cameV),
        };
    }

    /** @param  array{action: string, minutes: int, hours: float|null}  $decided */
    private static function work(array $decided): self
    {
        $action = RepairAction::tryFrom($decided['action']);
        $atSupply = in_array($action?->room(), ['recover', 'balance', 'charge'], true);
        $recovers = in_array($action, [RepairAction::RecoverGroup, RepairAction::RecoverPack], true);

        return new self(
            'work',
            lcfirst($action?->title() ?? 'work'),
            $atSupply ? BatchLimits::START_MIN : $decided['minutes'],
            $atSupply ? $decided['hours'] ?? $action->hours() : 0.0,
            $recovers,
        );
    }

    /** What has been read at its output says whether it will want a supply after its groups were read. */
    private static function probe(PackSpec $pack, ?float $cameV): self
    {
        $each = $cameV === null || $pack->series < 1 ? null : $cameV / $pack->series;
        $hours = $each === null ? 0.0 : self::recovery($pack, $each);
        $floor = $pack->profile()->floorV;
        $text = match (true) {
            $each === null => 'its groups to be read',
            $each < $floor => sprintf('%.2f V a group, under its floor: read it, a donor rather than a pack', $each),
            $each < $pack->lowCutV() => sprintf('%.2f V a group, under its low cut: read it, then slowly up', $each),
            default => sprintf('%.2f V a group: read it', $each),
        };

        return new self('probe', $text, BatchLimits::PROBE_MIN + ($hours > 0.0 ? BatchLimits::START_MIN : 0), $hours, $hours > 0.0);
    }

    /** Hours on a supply until the board takes over again, of a pack whose groups stand like this; 0.0 where none is wanted or allowed. */
    private static function recovery(PackSpec $pack, float $v): float
    {
        if ($v < $pack->profile()->floorV || $v >= $pack->lowCutV() || $pack->groupCapacityAh() === null) {
            return 0.0;
        }
        $to = max($pack->lowReleaseV(), RestCurve::of($pack->chemistry)->volts(0.0));
        $plan = RecoveryPlan::of($pack, 1, $v, [$to, $to]);

        return $plan->hours();
    }
}
