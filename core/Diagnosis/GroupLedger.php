<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Fault\Group\Ok;
use Heartwood\Core\Fault\Group\Overcharged;
use Heartwood\Core\Fault\Group\Undercharged;
use Heartwood\Core\Fault\Joint\HighResistance as WeakJoint;
use Heartwood\Core\Feature\Feature;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Feature\GroupFeatures;
use Heartwood\Core\Inference\GroupBeliefs;
use Heartwood\Core\Inference\WholePack;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Record\Place;

/** Findings of the groups and their joints, each with its ledger in a technician's words. */
final readonly class GroupLedger
{
    /** Share of the others that "sound" has when one state is weighed against all of them, in the ledger's words only. */
    private const SOUND_SHARE = 0.7;

    /** Below this a state is not worth a line. */
    private const LEAST = 0.03;

    public function __construct(private PackSpec $pack, private PackEvidence $evidence, private GroupFeatures $features) {}

    /** @return list<Finding> */
    public function findings(WholePack $pack): array
    {
        $out = [];
        foreach ($pack->groups as $k => $g) {
            if ($g->features === []) {
                continue;
            }
            foreach ($g->probabilities as $code => $p) {
                if ($code === Ok::CODE || $code === WeakJoint::CODE || $p < self::LEAST) {
                    continue;
                }
                $fault = Faults::of($code);
                $out[] = new Finding(
                    $code,
                    $fault->words()->titleAt($k),
                    Place::group($k),
                    $p,
                    $this->severity($fault, $k),
                    $this->evidence($g, $code),
                );
            }
        }
        foreach ($pack->joints as $tap => $p) {
            if ($p >= self::LEAST && $this->spoken($tap)) {
                $out[] = $this->joint($tap, $p, $pack);
            }
        }

        return $out;
    }

    /** Whether anything was measured that speaks of a joint: itself, or the groups beside it under current. */
    private function spoken(int $tap): bool
    {
        $beside = [...$this->features->groups[$tap] ?? [], ...$this->features->groups[$tap + 1] ?? []];

        return $this->features->joints[$tap] !== [] ||
            array_filter($beside, fn(Feature $f): bool => in_array($f->kind, [FeatureKind::Resistance, FeatureKind::Jump], true)) !== [];
    }

    private function joint(int $tap, float $p, WholePack $pack): Finding
    {
        $best = null;
        foreach ([$tap, $tap + 1] as $k) {
            $g = $pack->groups[$k] ?? null;
            $best = $g !== null && ($best === null || $g->p(WeakJoint::CODE) > $best->p(WeakJoint::CODE)) ? $g : $best;
        }
        $own = array_map(
            fn(Feature $f): Evidence => new Evidence(
                $f->words,
                in_array($f->outcome, ['bad', 'hot', 'cured'], true) ? 15.0 : -15.0,
                $f->basis,
            ),
            $this->features->joints[$tap],
        );
        $evidence = [...$own, ...$best === null ? [] : $this->evidence($best, WeakJoint::CODE)];
        $cured = $this->evidence->retightened[$tap] ?? null;
        $words = Faults::of(WeakJoint::CODE)->words();
        if ($cured === null) {
            return new Finding(WeakJoint::CODE, $words->titleAt($tap), Place::joint($tap), $p, Severity::Fix, $evidence);
        }

        return new Finding(
            WeakJoint::CODE,
            "The joint at tap $tap was loose: good since it was re-tightened, look again in a week",
            Place::joint($tap),
            $p,
            Severity::Watch,
            [
                new Evidence(
                    sprintf('re-tightening took its excess from %.1f to %.1f mohm', $cured[0], max(0.0, $cured[1])),
                    12.0,
                    'derived',
                ),
                ...$evidence,
            ],
        );
    }

    private function severity(Fault $fault, int $k): Severity
    {
        $v = $this->evidence->groups[$k - 1]->restV;
        $mv = $v === null || $this->evidence->middleV === null ? 0.0 : abs($v - $this->evidence->middleV) * 1000;

        return match (true) {
            $fault->code() === Undercharged::CODE && $mv <= 1000 * VerdictLimits::BALANCE_SOON_V => Severity::Watch,
            $fault->code() === Overcharged::CODE && ($v ?? 0.0) > $this->pack->profile()->fullV + 0.01 => Severity::Stop,
            default => $fault->severity(),
        };
    }

    /** @return list<Evidence> */
    private function evidence(GroupBeliefs $g, string $code): array
    {
        $shares = [Ok::CODE => self::SOUND_SHARE, WeakJoint::CODE => 0.04];
        foreach (Faults::groups() as $c => $fault) {
            $shares[$c] ??= (1 - self::SOUND_SHARE) * $fault->share();
        }
        $items = [];
        foreach ($g->features as $f) {
            $db = $g->decibans($f->kind->value, $code, $shares);
            if ($f->words !== '' && abs($db) >= 0.3) {
                $items[] = new Evidence($f->words, $db, $f->basis);
            }
        }
        $e = $this->evidence->groups[$g->group - 1];
        if ($e->doubt !== null) {
            $items[] = new Evidence($e->doubt, -10 * log10(1 / max(0.02, 1 - $e->doubtProbability)), 'derived');
        }
        usort($items, fn(Evidence $a, Evidence $b): int => abs($b->decibans) <=> abs($a->decibans));

        return $items === [] ? [new Evidence('nothing measured about it yet: only how often packs fail this way', 0.0, 'assumed')] : $items;
    }

    /**
     * Kinds of feature that are known of a place.
     *
     * @return list<FeatureKind>
     */
    public function known(Place $place): array
    {
        $k = $place->kind === 'joint' ? max(1, $place->number) : $place->number;

        return in_array($place->kind, ['group', 'joint'], true)
            ? array_map(fn(Feature $f): FeatureKind => $f->kind, [
                ...$this->features->groups[$k] ?? [],
                ...$place->kind === 'joint' ? $this->features->joints[$place->number] : [],
            ])
            : [];
    }
}
