<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

use Heartwood\Core\Diagnosis\Priors;
use Heartwood\Core\Fault\Family;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Fault\Group\LowCapacity;
use Heartwood\Core\Fault\Group\MissingCell;
use Heartwood\Core\Fault\Group\Ok;
use Heartwood\Core\Fault\Joint\HighResistance as WeakJoint;
use Heartwood\Core\Feature\Feature;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Feature\GroupFeatures;
use Heartwood\Core\Maths\Tiny;

/**
 * The groups of a pack and the joints between them, as a chain: each group in one of its states, each joint sound or
 * weak and then loading the group below or above it. What current shows of a group is its own or a joint's. Summed
 * exactly from both ends (forward-backward; Rabiner, A tutorial on hidden Markov models, 1989).
 *
 * Links: a pack came to the bench for a reason, so that "nothing is wrong at all" weighs less than the parts' own
 * priors say, and one fault that is found takes that weight off the others; a lost cell and plain ageing can give the
 * same pair of figures and stay at even odds until a weld or a strip is seen.
 */
final class GroupChain
{
    /** Prior of a group and of a joint, never over these: a pack of one has no neighbours. */
    private const MOST_FAULTY = 0.3;

    /** See above. */
    private const MOST_WEAK = 0.1;

    private const SOUND = 0;

    private const BELOW = 1;

    private const ABOVE = 2;

    /**
     * How much less "nothing wrong anywhere" weighs than the parts' own priors say: a tenth of all packs is sound (handbook
     * "Verdicts").
     */
    private const NO_REASON = 0.12;

    /** Expected number of faulty groups, and of weak joints, in a pack that nobody complains of (handbook "Verdicts": 45 and 12 %). */
    private const FAULTY_GROUPS = 0.4;

    private const WEAK_JOINTS = 0.16;

    /** Features that a weak joint brings about in the place of the group's own. */
    private const OF_THE_JOINT = [FeatureKind::Resistance, FeatureKind::Jump];

    /** @var array<string, array<string, Signature>> by kind and code */
    private array $laws = [];

    /** @var array<string, array<string, Signature>> the same, all states of a kind */
    private array $complete = [];

    public function __construct(public readonly Situation $situation, private readonly Priors $priors) {}

    /** How likely a feature is in a state of the group, `joint.high-resistance` among them. */
    public function density(string $code, Feature $feature): float
    {
        return $this->law($code, $feature->kind)->density($feature);
    }

    public function law(string $code, FeatureKind $kind): Signature
    {
        if ($code === WeakJoint::CODE && !in_array($kind, self::OF_THE_JOINT, true)) {
            $code = Ok::CODE;
        }

        return $this->laws[$kind->value][$code] ??= Faults::of($code)->signature($kind, $this->situation) ?? $this->law(Ok::CODE, $kind);
    }

    /** @return array<string, Signature> what each state of a group says of one kind of feature, the weak joint's among them */
    private function laws(FeatureKind $kind): array
    {
        if (!isset($this->complete[$kind->value])) {
            $this->complete[$kind->value] = [];
            foreach ([...array_keys(Faults::groups()), WeakJoint::CODE] as $code) {
                $this->complete[$kind->value][$code] = $this->law($code, $kind);
            }
        }

        return $this->complete[$kind->value];
    }

    /**
     * @param  float  $elsewhere  probability that something else than groups and joints is at fault
     * @return array{groups: array<int, GroupBeliefs>, joints: array<int, float>, log: float} joints by tap; log: natural logarithm of
     *   how likely all the features are
     */
    public function solve(GroupFeatures $features, float $elsewhere = 0.0): array
    {
        $n = count($features->groups);
        $faulty = min(
            self::MOST_FAULTY,
            (self::FAULTY_GROUPS * $this->priors->family(Family::Cells)) / Family::Cells->prior() / max(2, $n),
        );
        $weak = min(self::MOST_WEAK, (self::WEAK_JOINTS * $this->priors->family(Family::Joints)) / Family::Joints->prior() / max(2, $n));
        $codes = array_keys(Faults::groups());
        $prior = [];
        foreach ($codes as $code) {
            $prior[$code] = $code === Ok::CODE ? 1 - $faulty : $faulty * $this->priors->share($code);
        }
        if ($this->situation->pack->parallel === 1) {
            $prior[MissingCell::CODE] = 0.0;
        }
        $log = 0.0;
        $own = $sum = $densities = [];
        foreach ($features->groups as $k => $list) {
            $weight = $prior;
            $densities[$k] = [];
            foreach ($list as $f) {
                $of = $known = [];
                // States that look like a sound group share its law: each law is asked once.
                foreach ($this->laws($f->kind) as $code => $law) {
                    $of[$code] = $known[spl_object_id($law)] ??= $law->density($f);
                }
                $densities[$k][$f->kind->value] = $of;
                foreach ($codes as $code) {
                    $weight[$code] *= max(Tiny::DENSITY, $of[$code]);
                }
            }
            $weight = $this->evenOdds($weight, $prior, $densities[$k]);
            $top = max([Tiny::WEIGHT, ...array_values($weight)]);
            $log += log(max(Tiny::WEIGHT, $top));
            foreach ($weight as $code => $w) {
                $own[$k][0][$code] = $w / max(Tiny::WEIGHT, $top);
                // Under a weak joint what current shows is the joint's, whatever the group's own state.
                $own[$k][1][$code] = $own[$k][0][$code];
                foreach (self::OF_THE_JOINT as $kind) {
                    if (isset($densities[$k][$kind->value])) {
                        $own[$k][1][$code] *=
                            $densities[$k][$kind->value][WeakJoint::CODE] / max(Tiny::DENSITY, $densities[$k][$kind->value][$code]);
                    }
                }
            }
            $sum[$k] = [array_sum($own[$k][0]), array_sum($own[$k][1])];
        }
        $joint = [];
        for ($t = 0; $t <= $n; $t++) {
            [$sound, $bad] = [1 - $weak, $weak];
            foreach ($features->joints[$t] as $f) {
                $sound *= $this->law(Ok::CODE, $f->kind)->density($f);
                $bad *= Faults::of(WeakJoint::CODE)->signature($f->kind, $this->situation)?->density($f) ?? 1.0;
            }
            $joint[$t] = [$sound, $t === 0 ? 0.0 : ($t === $n ? $bad : $bad / 2), $t === $n ? 0.0 : ($t === 0 ? $bad : $bad / 2)];
        }

        return $this->sumUp($n, $own, $sum, $joint, $features, $densities, $log, $elsewhere);
    }

    /**
     * @param  array<int, array{0: array<string, float>, 1: array<string, float>}>  $own  weight by group, burden of a joint, state
     * @param  array<int, array{float, float}>  $sum  the same summed over states
     * @param  array<int, array{float, float, float}>  $joint  weight by tap and state of the joint
     * @param  array<int, array<string, array<string, float>>>  $densities
     * @return array{groups: array<int, GroupBeliefs>, joints: array<int, float>, log: float}
     */
    private function sumUp(
        int $n,
        array $own,
        array $sum,
        array $joint,
        GroupFeatures $features,
        array $densities,
        float $log,
        float $elsewhere,
    ): array {
        $forward = [0 => $joint[0]];
        $allOk = log($joint[0][self::SOUND]);
        for ($k = 1; $k <= $n; $k++) {
            $next = [0.0, 0.0, 0.0];
            foreach ($forward[$k - 1] as $below => $f) {
                foreach ($joint[$k] as $above => $j) {
                    $next[$above] += $f * $j * $sum[$k][self::burden($below, $above)];
                }
            }
            $scale = max(Tiny::WEIGHT, array_sum($next));
            $log += log($scale);
            $forward[$k] = array_map(fn(float $x): float => $x / $scale, $next);
            $allOk += log(max(Tiny::WEIGHT, $joint[$k][self::SOUND] * $own[$k][0][Ok::CODE])) - log($scale);
        }
        $back = [$n => [1.0, 1.0, 1.0]];
        for ($k = $n; $k >= 1; $k--) {
            $before = [0.0, 0.0, 0.0];
            foreach ($before as $below => $_) {
                foreach ($joint[$k] as $above => $j) {
                    $before[$below] += $j * $sum[$k][self::burden($below, $above)] * $back[$k][$above];
                }
            }
            $scale = max(Tiny::WEIGHT, array_sum($before));
            $back[$k - 1] = array_map(fn(float $x): float => $x / $scale, $before);
        }
        // A pack came for a reason: what "nothing wrong anywhere" weighs less falls to the faults, in proportion.
        $none = exp(min(0.0, $allOk - log(max(Tiny::WEIGHT, array_sum($forward[$n]))))) * (1 - $elsewhere);
        $taken = (1 - self::NO_REASON) * $none;
        $left = max(Tiny::CHANCE, 1 - $taken);
        $groups = $joints = [];
        for ($k = 1; $k <= $n; $k++) {
            $burden = [0.0, 0.0];
            foreach ($forward[$k - 1] as $below => $f) {
                foreach ($joint[$k] as $above => $j) {
                    $burden[self::burden($below, $above)] += $f * $j * $back[$k][$above];
                }
            }
            $z = max(Tiny::WEIGHT, $burden[0] * $sum[$k][0] + $burden[1] * $sum[$k][1]);
            $p = [];
            foreach ($own[$k][0] as $code => $w) {
                $p[$code] = ($burden[0] * $w) / $z;
            }
            // Burdened by a joint and sound itself is a state of its own; burdened and at fault counts as the fault.
            $p[WeakJoint::CODE] = ($burden[1] * $own[$k][1][Ok::CODE]) / $z;
            foreach ($own[$k][1] as $code => $w) {
                $p[$code] += $code === Ok::CODE ? 0.0 : ($burden[1] * $w) / $z;
            }
            $p[Ok::CODE] = max(0.0, $p[Ok::CODE] - $taken);
            $groups[$k] = new GroupBeliefs($k, array_map(fn(float $x): float => $x / $left, $p), $features->groups[$k], $densities[$k]);
        }
        for ($t = 0; $t <= $n; $t++) {
            $w = array_map(fn(float $f, float $b): float => $f * $b, $forward[$t], $back[$t]);
            $joints[$t] = ($w[self::BELOW] + $w[self::ABOVE]) / max(Tiny::WEIGHT, array_sum($w)) / $left;
        }

        return [
            'groups' => $groups,
            'joints' => array_map(fn(float $x): float => min(1.0, $x), $joints),
            'log' => $log + log($left) + log(max(Tiny::WEIGHT, array_sum($forward[$n]))),
        ];
    }

    /** Whether a group is loaded by the joint below it or the one above. */
    private static function burden(int $below, int $above): int
    {
        return $below === self::ABOVE || $above === self::BELOW ? 1 : 0;
    }

    /**
     * A lost cell is never said likelier than ageing from voltages and amp-hours alone.
     *
     * @param  array<string, float>  $weight
     * @param  array<string, float>  $prior
     * @param  array<string, array<string, float>>  $densities
     * @return array<string, float>
     */
    private function evenOdds(array $weight, array $prior, array $densities): array
    {
        if (
            $prior[MissingCell::CODE] <= 0.0 ||
            isset($densities[FeatureKind::Weld->value]) ||
            (!isset($densities[FeatureKind::Resistance->value]) && !isset($densities[FeatureKind::Capacity->value]))
        ) {
            return $weight;
        }
        $weight[MissingCell::CODE] = min($weight[MissingCell::CODE], $weight[LowCapacity::CODE]);

        return $weight;
    }
}
