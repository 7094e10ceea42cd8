<?php

declare(strict_types=1);

namespace Heartwood\Core\Batch;

use Heartwood\Core\Record\PackSpec;

/** Which groups of a pack that is no more may serve in others of its lot: inside their window, and called sound by the verdict. */
final readonly class Donor
{
    /** States in which a group's cells may still serve. */
    private const SOUND = ['group.ok', 'group.undercharged', 'group.overcharged'];

    /** @param  list<int>  $groups */
    private function __construct(public array $groups, public ?int $cells) {}

    /**
     * @param  array<array-key, float|null>  $volts  of its groups at rest
     * @param  array<array-key, string>  $states  what the verdict calls them
     */
    public static function of(PackSpec $pack, array $volts, array $states): self
    {
        $groups = [];
        foreach (array_values($volts) as $k => $v) {
            $sound = !isset($states[$k]) || in_array($states[$k], self::SOUND, true);
            if ($v !== null && $sound && $v >= $pack->lowCutV() && $v <= $pack->profile()->fullV) {
                $groups[] = $k + 1;
            }
        }

        return new self($groups, $pack->parallel === null ? null : count($groups) * $pack->parallel);
    }

    public function text(): string
    {
        return $this->groups === []
            ? 'no group of it is inside its window: none to take'
            : sprintf(
                '%s %s inside %s window%s: tested before any is used',
                count($this->groups) === 1 ? 'group' : 'groups',
                implode(', ', $this->groups),
                count($this->groups) === 1 ? 'its' : 'their',
                $this->cells === null ? '' : sprintf(', %d cells', $this->cells),
            );
    }
}
