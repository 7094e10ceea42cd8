<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Record\Place;

/** Findings of the groups and their joints, each with its ledger in a technician's words. */
final readonly class GroupLedger
{
    public function __construct(private PackSpec $pack, private PackEvidence $evidence)
    {
    }

    /**
     * @param  list<GroupPosterior>  $posteriors
     * @return list<Finding>
     */
    public function findings(array $posteriors): array
    {
        $out = [];
        $joints = [];
        foreach ($posteriors as $p) {
            $k = $p->evidence->group;
            foreach (GroupState::cases() as $state) {
                if ($state === GroupState::Ok || $p->p($state) < 0.03) {
                    continue;
                }
                if ($state === GroupState::Joint) {
                    // The joint at a tap may load the group below or above it: share the weight, the top end has only one side.
                    foreach ($this->taps($k) as $tap => $share) {
                        $joints[$tap][] = [$p, $p->p($state) * $share];
                    }

                    continue;
                }
                if ($p->evidence->restV === null && $p->features === []) {
                    continue;
                }
                $out[] = new Finding($state->value, $state->title($k), Place::group($k), $p->p($state), $this->severity($state, $p), $this->evidence($p, $state));
            }
        }
        foreach ($joints as $tap => $shares) {
            $miss = 1.0;
            foreach ($shares as [, $share]) {
                $miss *= 1 - $share;
            }
            usort($shares, fn (array $a, array $b): int => $b[1] <=> $a[1]);
            $out[] = $this->joint($tap, 1 - $miss, $this->evidence($shares[0][0], GroupState::Joint));
        }

        return $out;
    }

    /** @param  list<Evidence>  $evidence */
    private function joint(int $tap, float $p, array $evidence): Finding
    {
        $cured = $this->evidence->retightened[$tap] ?? null;
        if ($cured === null) {
            return new Finding('joint.high-resistance', "The joint at tap $tap has high resistance", Place::joint($tap), $p, Severity::Fix, $evidence);
        }

        return new Finding('joint.high-resistance', "The joint at tap $tap was loose: good since it was re-tightened, look again in a week", Place::joint($tap), $p, Severity::Watch, [
            new Evidence(sprintf('re-tightening took its excess from %.1f to %.1f mohm', $cured[0], max(0.0, $cured[1])), 12.0, 'derived'), ...$evidence,
        ]);
    }

    /**
     * How the weight of a weak joint at group k falls to the taps at its two ends: by heat and drop where measured.
     *
     * @return array<int, float> share by tap, summing to 1
     */
    private function taps(int $k): array
    {
        $weight = [];
        foreach ([$k - 1, $k] as $tap) {
            $drop = $this->evidence->jointDrop[$tap] ?? null;
            $weight[$tap] = ($drop === null ? 1.0 : ($drop ? 12.0 : 0.05)) * (1 + max(0.0, $this->evidence->jointHeat[$tap] ?? 0.0) / 3);
        }
        $sum = array_sum($weight);

        return array_map(fn (float $w): float => $w / $sum, $weight);
    }

    private function severity(GroupState $state, GroupPosterior $p): Severity
    {
        $mv = $p->evidence->restV === null || $this->evidence->middleV === null ? 0.0 : abs($p->evidence->restV - $this->evidence->middleV) * 1000;
        if ($state === GroupState::Undercharged && $mv <= 100) {
            return Severity::Watch;
        }
        if ($state === GroupState::Overcharged && ($p->evidence->restV ?? 0.0) > $this->pack->profile()->fullV + 0.01) {
            return Severity::Stop;
        }

        return Severity::of($state->value);
    }

    /** @return list<Evidence> */
    private function evidence(GroupPosterior $p, GroupState $state): array
    {
        $e = $p->evidence;
        $items = [];
        foreach (array_keys($p->features) as $feature) {
            $text = $this->words($feature, $e);
            $db = $p->decibans($feature, $state);
            if ($text !== null && abs($db) >= 0.3) {
                $items[] = new Evidence($text, $db, $feature === 'rest' && ! $e->across ? 'derived' : ($feature === 'weld' || $feature === 'recovery' || $feature === 'capacity' ? 'measured' : ($feature === 'rest' ? 'measured' : 'derived')));
            }
        }
        if ($e->doubt !== null) {
            $items[] = new Evidence($e->doubt, -10 * log10(1 / max(0.02, 1 - $e->doubtProbability)), 'derived');
        }
        usort($items, fn (Evidence $a, Evidence $b): int => abs($b->decibans) <=> abs($a->decibans));

        return $items === [] ? [new Evidence('nothing measured about it yet: only how often packs fail this way', 0.0, 'assumed')] : $items;
    }

    private function words(string $feature, GroupEvidence $e): ?string
    {
        $middle = $this->evidence->middleV;

        return match ($feature) {
            'rest' => match (true) {
                $e->restV === null => null,
                $e->restV < 0 => sprintf('reads %.3f V: below zero', $e->restV),
                $e->restV < $this->pack->profile()->floorV => sprintf('rests at %.3f V, under the floor of %.2f V', $e->restV, $this->pack->profile()->floorV),
                $e->restV < $this->pack->lowCutV() => sprintf('rests at %.3f V, under the board\'s low cut of %.2f V and above the floor', $e->restV, $this->pack->lowCutV()),
                $middle === null => sprintf('rests at %.3f V', $e->restV),
                abs($e->restV - $middle) < 0.006 => 'rests level with its neighbours',
                default => sprintf('rests %.0f mV %s the middle group', abs($e->restV - $middle) * 1000, $e->restV < $middle ? 'under' : 'over'),
            },
            'leak' => $e->refillAh > 0.0 ? sprintf('took %.2f Ah to fill again after %s', $e->refillAh, self::days($e->leakDays)) : sprintf('falls %.0f mV in %s, the middle group %.0f mV', $e->fellMv, self::days($e->leakDays), $e->othersFellMv),
            'resistance' => abs($e->resistance ?? 0.0) < max(0.05, $e->resistanceSigma) ? 'follows the middle group as current changes' : sprintf('%s %.1f mohm %s than the middle group as current changes', $e->resistance > 0 ? 'sags' : 'stands', abs($e->resistanceMohm), $e->resistance > 0 ? 'more' : 'better'),
            'capacity' => sprintf('gave %.2f Ah, %.0f %% of what it should', $e->capacityAh, 100 * ($e->capacity ?? 0)),
            'weld' => ($e->tugLoose ?? $e->stripDead) === true ? ($e->tugLoose !== null ? 'a weld comes loose when tugged' : 'one cell\'s strip carries nothing') : 'every weld holds',
            'strips' => $e->stripLeaks === true ? 'one cell draws current through its strip at rest' : 'no cell draws current from the others at rest',
            'cells' => sprintf('its cells by themselves measure %.0f %% %s than they should', abs(100 * (float) $e->cellResistance), $e->cellResistance >= 0 ? 'more' : 'less'),
            'joint' => $e->jointProved === true ? 'the joint itself is hot or drops too much' : 'its joints drop next to nothing',
            'top' => sprintf('stands %.0f mV %s the middle group when the charge stops', abs(1000 * (float) $e->aheadAtTop), $e->aheadAtTop >= 0 ? 'over' : 'under'),
            'bottom' => sprintf('stands %.0f mV %s the middle group when the discharge stops', abs(1000 * (float) $e->aheadAtBottom), $e->aheadAtBottom >= 0 ? 'under' : 'over'),
            'stays' => abs((float) $e->staysAtTop) < 0.01 ? 'what it shows on charge vanishes with the current' : sprintf('stays %.0f mV %s the others after the charge stops', abs(1000 * (float) $e->staysAtTop), $e->staysAtTop >= 0 ? 'over' : 'under'),
            'recovery' => match ($e->recovery) {
                'rises' => 'rises under a small current',
                'falls' => 'falls while current flows',
                default => 'hangs while current flows',
            },
            default => null,
        };
    }

    private static function days(float $days): string
    {
        return $days < 2 ? sprintf('%.0f h', $days * 24) : sprintf('%.0f days', $days);
    }
}
