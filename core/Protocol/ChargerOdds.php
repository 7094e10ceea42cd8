<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol;

use Heartwood\Core\Limits\ProofLimits;
use Heartwood\Core\Limits\ProtocolLimits;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\JobRecord;

/**
 * What may have gone wrong with a charge, weighed by what a trial of its charger showed. A cause that shows itself outweighs the
 * others; one that had n chances to show and did not keeps 1 in 1 + n (Laplace's rule of succession).
 */
final readonly class ChargerOdds
{
    private const TITLES = [
        'wrong-profile' => 'a profile for another kind of battery',
        'wrong-voltage' => 'a wrong end voltage',
        'mode-slipped' => 'the mode slipped',
        'board-does-not-cut' => 'the pack\'s board does not cut',
        'weak-cells' => 'weak cells in the pack',
        'mechanical' => 'a blow, a crush or water',
    ];

    /** @param  list<array{cause: string, title: string, share: float, why: string}>  $causes  most likely first; shares add up to 1 */
    private function __construct(public array $causes) {}

    /**
     * @param  list<Cycle>  $cycles
     * @param  array<string, Fields>  $proof  what was entered for the checks of the customer's pack
     */
    public static function of(array $cycles, JobRecord $record, array $proof): self
    {
        $weight = ProtocolLimits::CAUSES;
        $why = [];
        $times = function (string $cause, float $factor, string $because) use (&$weight, &$why): void {
            $weight[$cause] *= $factor;
            $why[$cause][] = $because;
        };
        $seen = fn(callable $is): int => count(array_filter($cycles, $is));
        $n = count($cycles);
        $foreign = $seen(fn(Cycle $c): bool => $c->foreign() !== []);
        $foreign > 0
            ? $times('wrong-profile', ProtocolLimits::SEEN, "stages of another kind of battery in $foreign of $n")
            : $times('wrong-profile', 1 / (1 + $n), "no foreign stage in $n");
        $over = $seen(fn(Cycle $c): bool => self::over($c, $record));
        $over > 0
            ? $times('wrong-voltage', ProtocolLimits::SEEN, "ended too high in $over of $n")
            : $times('wrong-voltage', 1 / (1 + $n), "ended right in $n");
        $slips = $seen(fn(Cycle $c): bool => $c->slipped());
        $lost = $seen(fn(Cycle $c): bool => $c->end->bool('mains_lost') === true);
        $slips > 0
            ? $times('mode-slipped', ProtocolLimits::SEEN, "in another mode afterwards in $slips of $n")
            : ($lost > 0
                ? $times('mode-slipped', 1 / (1 + $lost), "the mains lost $lost times, the mode stayed")
                : $times('mode-slipped', 1.0, 'the mains were never lost in the trial'));
        $cut = ($proof[Check::HighCut->value] ?? new Fields([]))->float('v');
        if ($cut === null) {
            $times('board-does-not-cut', 1.0, 'nobody saw its board cut');
        } else {
            abs($cut - $record->pack->highCutV()) <= ProofLimits::CUT_V + Tiny::COARSE
                ? $times('board-does-not-cut', ProtocolLimits::NOT_THERE, sprintf('its board was seen to cut at %.2f V', $cut))
                : $times('board-does-not-cut', ProtocolLimits::SEEN, sprintf('its board cut at %.2f V only', $cut));
        }
        $weak = array_filter(
            $record->currentTests('capacity'),
            fn($t): bool => ($record->pack->groupCapacityAh() ?? 0.0) > 0.0 &&
                (float) $t->data->float('measured_ah') < VerdictLimits::AGED_SHARE * (float) $record->pack->groupCapacityAh(),
        );
        $weak === []
            ? $times('weak-cells', 1.0, 'its cells were not found weak')
            : $times('weak-cells', ProtocolLimits::HINT, 'it holds less than it should');
        $hurt = array_filter(['crushed', 'punctured', 'wet', 'dropped'], fn(string $f): bool => $record->inspection->bool($f) === true);
        $hurt === []
            ? $times('mechanical', 1.0, 'no damage was written down')
            : $times('mechanical', ProtocolLimits::HINT, 'it came in ' . implode(', ', $hurt));
        $sum = array_sum($weight);
        arsort($weight);

        return new self(
            array_map(
                fn(string $cause, float $w): array => [
                    'cause' => $cause,
                    'title' => self::TITLES[$cause],
                    'share' => $w / $sum,
                    'why' => implode('; ', $why[$cause] ?? []),
                ],
                array_keys($weight),
                $weight,
            ),
        );
    }

    /** Whether a cycle ended over what any cell of the kind may have, or its board had to cut. */
    private static function over(Cycle $c, JobRecord $record): bool
    {
        $cell = $c->end->float('highest_group_v');

        return $c->end->bool('board_cut') === true ||
            ($cell !== null && $cell > $record->pack->profile()->fullV * (1 + VerdictLimits::CHARGER_OVER_SHARE));
    }
}
