<?php

declare(strict_types=1);

namespace Heartwood\Core\Twin;

/**
 * What a board remembers from one stretch to the next: which switch is open and whether it lets go by itself.
 * A tripped side closes again at its release voltage at rest; one that latches waits for a charger or a wake action
 * (handbook "Verdicts": the output stays explained until every group is past the release voltage).
 */
final class BoardState
{
    private bool $dischargeOpen = false;

    private bool $chargeOpen = false;

    public function __construct(private readonly TwinBoard $board, private readonly bool $latches) {}

    /** The stretch ended as `$run` says: a cut-off opens the switch of its side, current the other way closes it. */
    public function after(Run $run): void
    {
        if ($run->endedBy === 'group-empty') {
            $this->dischargeOpen = true;
        } elseif ($run->mode === 'charge' && $run->ah > 0) {
            $this->dischargeOpen = false;
        }
        if ($run->endedBy === 'group-full') {
            $this->chargeOpen = true;
        } elseif ($run->mode === 'discharge' && $run->ah > 0) {
            $this->chargeOpen = false;
        }
    }

    /**
     * @param  list<float>  $volts  of every group, no current flowing
     * @return string|null what let go, in a sentence; null when nothing changed
     */
    public function rest(array $volts): ?string
    {
        if ($volts === []) {
            return null;
        }
        if ($this->dischargeOpen && !$this->latches && min($volts) >= $this->board->lowReleaseV) {
            $this->dischargeOpen = false;

            return sprintf('the output comes back: every group is over %.2f V', $this->board->lowReleaseV);
        }
        if ($this->chargeOpen && max($volts) <= $this->board->highReleaseV) {
            $this->chargeOpen = false;

            return sprintf('it takes charge again: every group is under %.2f V', $this->board->highReleaseV);
        }

        return null;
    }

    /**
     * A wake action: a latch lets go when no group is under the low limit any more.
     *
     * @param  list<float>  $volts
     */
    public function wake(array $volts): bool
    {
        if ($volts === [] || min($volts) <= $this->board->lowV) {
            return !$this->dischargeOpen;
        }
        $this->dischargeOpen = false;

        return true;
    }

    /**
     * @param  'charge'|'discharge'  $mode
     * @param  list<float>  $volts
     * @return string|null why no current can flow that way
     */
    public function refuses(string $mode, array $volts): ?string
    {
        $this->rest($volts);
        if ($mode === 'discharge' && $this->dischargeOpen) {
            $least = $volts === [] ? 0.0 : min($volts);
            $k = (int) array_search($least, $volts, true) + 1;

            return $least < $this->board->lowReleaseV
                ? sprintf(
                    'the output stays off: group %d stands at %.2f V, the board lets go at %.2f V',
                    $k,
                    $least,
                    $this->board->lowReleaseV,
                )
                : 'the output stays off though every group is past the release voltage: the board has latched';
        }
        if ($mode === 'charge' && $this->chargeOpen) {
            return sprintf(
                'it takes no charge: the fullest group stands at %.2f V, the board lets go at %.2f V',
                $volts === [] ? 0.0 : max($volts),
                $this->board->highReleaseV,
            );
        }

        return null;
    }
}
