<?php

declare(strict_types=1);

namespace Heartwood\Core\Drift;

use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Reading\RestSpread;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Service\Glance;

/**
 * What the owner of a pack is told of a reading, at once: fine, read again, or stop using it, and why, each by its code: the words are
 * the owner's page's own (handbook "After the return: does the repair hold?"). Volts.
 */
final readonly class OwnerAnswer
{
    /**
     * @param  list<array{code: string, group?: int, v?: float, limit?: float, mv?: float}>  $why  stop: every reason; else what is missing
     * @param  string  $againAt  RFC 3339, when it is read next
     */
    private function __construct(public Answer $answer, public array $why, public string $againAt) {}

    /**
     * @param  Verdict  $drift  of all readings, this one among them
     * @param  float|null  $packV  of the whole pack, where its display shows no groups
     * @param  array<string, bool|null>  $signs  by Sign; null or missing: not answered
     * @param  Glance|null  $mark  of this reading on its band
     */
    public static function of(PackSpec $pack, Verdict $drift, Point $point, ?float $packV, array $signs, ?Glance $mark = null): self
    {
        $stop = [];
        foreach (Sign::cases() as $sign) {
            if (($signs[$sign->value] ?? null) === true) {
                $stop[] = ['code' => $sign->value];
            }
        }
        $high = $pack->highCutV();
        $low = $pack->lowCutV();
        foreach (self::volts($point) as [$group, $v]) {
            if ($v > $high + Tiny::SUM) {
                $stop[] = self::at('over', $group, $v, $high);
            } elseif ($point->condition === 'rest' && $v < $low - Tiny::SUM) {
                $stop[] = self::at('under', $group, $v, $low);
            }
        }
        if ($packV !== null && $packV > $pack->series * $high + Tiny::SUM) {
            $stop[] = ['code' => 'pack-over', 'v' => $packV, 'limit' => $pack->series * $high];
        } elseif ($packV !== null && $point->condition === 'rest' && $packV < $pack->series * $low - Tiny::SUM) {
            $stop[] = ['code' => 'pack-under', 'v' => $packV, 'limit' => $pack->series * $low];
        }
        $spread = $point->spreadV();
        $last = RestSpread::lastLimit($pack->chemistry);
        if ($spread !== null && $spread > $last + Tiny::SUM) {
            $stop[] = ['code' => 'apart', 'mv' => Verdict::MV * $spread, 'limit' => Verdict::MV * $last];
        }
        $early = $drift->reaches()['early'] ?? null;
        if ($drift->state === State::Grows && $early !== null && $early <= $drift->nextAt) {
            $stop[] = ['code' => 'grows'];
        }
        if ($mark !== null && !$mark->isInside() && $mark->kind !== 'groups') {
            // The coarse check sees little: what it sees is not small.
            $stop[] = ['code' => "{$mark->kind}-off", 'v' => abs($mark->value), 'limit' => $mark->sees];
        }
        if ($stop !== []) {
            return new self(Answer::Stop, $stop, $drift->nextAt);
        }
        $missing = [];
        if (array_filter(Sign::cases(), fn(Sign $s): bool => ($signs[$s->value] ?? null) !== false) !== []) {
            $missing[] = ['code' => 'not-looked'];
        }
        if (!in_array($point, $drift->comparable->points, true)) {
            $missing[] = ['code' => $drift->flat || $spread !== null ? 'not-comparable' : 'no-groups'];
        } elseif ($drift->flat) {
            $missing[] = ['code' => 'flat'];
        }

        if ($mark !== null && !$mark->isInside()) {
            $missing[] = ['code' => 'balance-soon', 'mv' => Verdict::MV * $mark->value, 'limit' => Verdict::MV * $mark->high];
        }

        return new self($missing === [] ? Answer::Fine : Answer::Again, $missing, $drift->nextAt);
    }

    /** @return list<array{int, float}> group and volts; 0: the highest or the lowest of them, nobody knows which */
    private static function volts(Point $p): array
    {
        $out = [];
        foreach ($p->groupsV ?? [] as $k => $v) {
            if ($v !== null) {
                $out[] = [$k + 1, $v];
            }
        }
        foreach ($p->groupsV === null ? [$p->highestV, $p->lowestV] : [] as $v) {
            if ($v !== null) {
                $out[] = [0, $v];
            }
        }

        return $out;
    }

    /** @return array{code: string, group?: int, v: float, limit: float} */
    private static function at(string $code, int $group, float $v, float $limit): array
    {
        return ['code' => $code] + ($group === 0 ? [] : ['group' => $group]) + ['v' => $v, 'limit' => $limit];
    }
}
