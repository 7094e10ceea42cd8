<?php

declare(strict_types=1);

namespace Heartwood\Core\Record;

/** Where something is: a group, a tap, the joint at a tap, a cell, or the whole pack. */
final readonly class Place
{
    private function __construct(public string $kind, public int $number, public string $cell) {}

    public static function pack(): self
    {
        return new self('pack', 0, '');
    }

    public static function group(int $k): self
    {
        return new self('group', $k, '');
    }

    public static function tap(int $k): self
    {
        return new self('tap', $k, '');
    }

    public static function joint(int $k): self
    {
        return new self('joint', $k, '');
    }

    public static function from(Fields $where): self
    {
        foreach (['group', 'tap', 'joint'] as $kind) {
            if (($k = $where->int($kind)) !== null) {
                return new self($kind, $k, '');
            }
        }

        return ($cell = $where->string('cell')) !== null ? new self('cell', 0, $cell) : self::pack();
    }

    public function isGroup(int $k): bool
    {
        return $this->kind === 'group' && $this->number === $k;
    }

    public function key(): string
    {
        return $this->kind . ':' . ($this->kind === 'cell' ? $this->cell : $this->number);
    }

    /** @return array<string, int|string>|null */
    public function toArray(): ?array
    {
        return match ($this->kind) {
            'pack' => null,
            'cell' => ['cell' => $this->cell],
            default => [$this->kind => $this->number],
        };
    }
}
