<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

use Heartwood\Core\Limits\WorkLimits;

/** A bolted joint: the torque to set, so that tool tolerance stays between the maker's limits (handbook "Build sheet"). */
final class Joint
{
    /** Days after which a joint that was set is looked at again (handbook "Build sheet"). */
    public const CHECK_AGAIN_DAYS = 7;

    /**
     * The torque that is set: the one in the middle, or one that was chosen.
     *
     * @throws \InvalidArgumentException limits or tolerance are none
     * @throws \DomainException it would leave the maker's limits with this tool
     */
    public static function set(float $minNm, float $maxNm, float $tolerance, ?float $chosenNm): float
    {
        $target = self::torque($minNm, $maxNm, $tolerance);
        $set = $chosenNm ?? $target['set_nm'];
        if ($set === null || $set * (1 - $tolerance) < $minNm || $set * (1 + $tolerance) > $maxNm) {
            throw new \DomainException($target['text']);
        }

        return $set;
    }

    /**
     * @return array{set_nm: float|null, text: string}
     *
     * @throws \InvalidArgumentException limits or tolerance are none
     */
    public static function torque(float $minNm, float $maxNm, float $tolerance): array
    {
        $low = $minNm / (1 - $tolerance);
        $high = $maxNm / (1 + $tolerance);
        if ($minNm <= 0 || $maxNm < $minNm || $tolerance < 0 || $tolerance >= 1) {
            throw new \InvalidArgumentException('torque: minimum over 0, maximum not under it, tolerance as a share under 1');
        }

        return $low > $high
            ? [
                'set_nm' => null,
                'text' => sprintf(
                    'A tool of %.0f %% cannot stay between %.1f and %.1f Nm: use a finer one.',
                    100 * $tolerance,
                    $minNm,
                    $maxNm,
                ),
            ]
            : [
                'set_nm' => round(($low + $high) / 2, 2),
                'text' => sprintf(
                    'Set %.1f Nm (%.1f to %.1f), both ends; check again after a week. A joint that comes back wants another ' .
                        'contact material or compound.',
                    ($low + $high) / 2,
                    $low,
                    $high,
                ),
            ];
    }

    /**
     * Ohm's law at one place: what is lost there at a stated current.
     *
     * @param  float  $mv  across the joint
     * @param  float  $amps  through it, in either direction
     * @return float milliohm
     *
     * @throws \InvalidArgumentException no current flows: nothing is lost, and nothing is known
     */
    public static function milliohm(float $mv, float $amps): float
    {
        if ($amps === 0.0) {
            throw new \InvalidArgumentException('amps: without a current there are no millivolts to read: say at how many amps');
        }

        return abs($mv / $amps);
    }

    /** What setting it brought: "1.62 mohm before, 0.21 after". */
    public static function brought(?float $before, ?float $after): string
    {
        return match (true) {
            $after === null => 'Not read after it was set: read its millivolts at a known current.',
            $before === null => sprintf('%.2f mohm after.', $after),
            $after < $before => sprintf('%.2f mohm before, %.2f after.', $before, $after),
            default => sprintf('%.2f mohm before, %.2f after: it is no better. Clean it, or it is not the joint.', $before, $after),
        };
    }

    /**
     * The look a week later.
     *
     * @param  float|null  $then  milliohm after it was set, null where nobody read it
     * @param  int  $before  times that this joint came back before
     * @return array{holds: bool|null, text: string} null: nothing to hold it against
     */
    public static function again(?float $then, float $now, int $before): array
    {
        if ($then === null) {
            return ['holds' => null, 'text' => sprintf('%.2f mohm now; it was not read when it was set: look once more in a week.', $now)];
        }
        $holds = $now <= max($then * WorkLimits::JOINT_COMES_BACK, $then + WorkLimits::JOINT_NOISE_MOHM);

        return [
            'holds' => $holds,
            'text' =>
                sprintf('%.2f mohm when it was set, %.2f now: ', $then, $now) .
                match (true) {
                    $holds => 'it holds.',
                    $before + 1 < WorkLimits::JOINT_OTHER_CONTACT
                        => 'it has come back. Clean it and set it again; like metals, and a compound.',
                    default => 'it has come back again. Other contact metal or compound, not more torque.',
                },
        ];
    }

    /**
     * A joint that came back often enough is not set once more as it was.
     *
     * @param  int  $cameBack  times
     * @param  list<string>  $earlier  contacts that it was set with
     * @return string|null why it is not; null where it may be set
     */
    public static function sameContact(int $cameBack, string $contact, array $earlier): ?string
    {
        $plain = fn(string $t): string => trim(mb_strtolower((string) preg_replace('/\s+/', ' ', $t)));
        if ($cameBack < WorkLimits::JOINT_OTHER_CONTACT) {
            return null;
        }

        return $plain($contact) === '' || in_array($plain($contact), array_map($plain, $earlier), true)
            ? sprintf(
                'This joint has come back %d times: it wants other metal or compound. Say what is between the contacts now.',
                $cameBack,
            )
            : null;
    }
}
