<?php

declare(strict_types=1);

namespace Heartwood\Core\Drift;

use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Record\Fields;

/** One dated reading of a pack in service: of every group, or of the highest and the lowest alone. Volts, charge 0..1. */
final readonly class Point
{
    /** A meter or display that says nothing of itself shows millivolts. */
    public const RESOLUTION_V = 0.001;

    /**
     * @param  string  $condition  rest | full | charge | discharge
     * @param  list<float|null>|null  $groupsV  from B-; null in it: not read
     */
    public function __construct(
        public string $at,
        public string $condition,
        public ?float $soc,
        public ?array $groupsV,
        public ?float $highestV,
        public ?float $lowestV,
        public float $resolutionV = self::RESOLUTION_V,
    ) {}

    public static function from(Fields $p): self
    {
        return new self(
            (string) $p->string('at'),
            (string) $p->string('condition'),
            $p->float('soc'),
            $p->has('groups_v') ? $p->numbers('groups_v') : null,
            $p->float('highest_v'),
            $p->float('lowest_v'),
            $p->float('resolution_v') ?? self::RESOLUTION_V,
        );
    }

    /** Unix seconds. */
    public function time(): float
    {
        return (float) (new \DateTimeImmutable($this->at))->format('U.u');
    }

    /** @return non-empty-list<float>|null volts of all groups; null where one was not read, or none */
    public function groups(): ?array
    {
        $read = array_values(array_filter($this->groupsV ?? [], fn(?float $v): bool => $v !== null));

        return $read === [] || count($read) !== count((array) $this->groupsV) ? null : $read;
    }

    /** How far the groups are apart, volts; null where neither all groups nor highest and lowest are known. */
    public function spreadV(): ?float
    {
        $groups = $this->groups();
        if ($groups !== null && count($groups) > 1) {
            return max($groups) - min($groups);
        }

        return $this->highestV === null || $this->lowestV === null ? null : $this->highestV - $this->lowestV;
    }

    /** Volts of the middle group, as far as it is known. */
    public function middleV(): ?float
    {
        $groups = $this->groups();

        return match (true) {
            $groups !== null => Robust::median($groups),
            $this->highestV !== null && $this->lowestV !== null => ($this->highestV + $this->lowestV) / 2,
            default => null,
        };
    }

    /** @return array{field: string, text: string}|null what makes it no reading of a pack of so many groups, and the mend */
    public function problem(int $series): ?array
    {
        return match (true) {
            $this->groupsV !== null && count($this->groupsV) !== $series => [
                'field' => 'groups_v',
                'text' => sprintf(
                    'has %d values, the pack has %d groups: one for each, null where it was not read',
                    count($this->groupsV),
                    $series,
                ),
            ],
            $this->highestV !== null && $this->lowestV !== null && $this->highestV < $this->lowestV => [
                'field' => 'highest_v',
                'text' => 'is under the lowest: exchange the two',
            ],
            default => null,
        };
    }
}
