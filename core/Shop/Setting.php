<?php

declare(strict_types=1);

namespace Heartwood\Core\Shop;

/** One fact that a shop tells about itself: what it is called, what it changes, where it starts and how far it may go. */
final readonly class Setting
{
    /**
     * @param  string  $kind  text, choice, whole, decimal, money (cents), percent, time (HH:MM or none), zone, lines, switch
     * @param  string  $changes  what is different in the shop when it is changed
     * @param  float|null  $min  and $max: the bounds, in the unit; a limit that may only be tightened is bounded by the handbook's own
     * @param  array<string, string>  $choices  by value, in words
     * @param  string  $source  of the default
     */
    public function __construct(
        public string $key,
        public string $group,
        public string $title,
        public string $kind,
        public string $changes,
        public string|int|float|bool|null $default,
        public string $unit = '',
        public ?float $min = null,
        public ?float $max = null,
        public array $choices = [],
        public string $source = '',
    ) {}

    /** Characters of one text, and of lines together. */
    private const TEXT_MAX = 120;

    private const LINES_MAX = 2000;

    /**
     * Why a value cannot be taken, and the mend; null when it can.
     */
    public function refuses(mixed $value): ?string
    {
        if ($value === null) {
            return in_array($this->kind, ['time', 'money', 'lines', 'text'], true) && $this->default === null
                ? null
                : 'Give a value, or go back to the default.';
        }

        return match ($this->kind) {
            'choice' => is_string($value) && isset($this->choices[$value])
                ? null
                : 'One of: ' . implode(', ', array_keys($this->choices)) . '.',
            'switch' => is_bool($value) ? null : 'Yes or no.',
            'time' => is_string($value) && preg_match('/^([01]\d|2[0-3]):[0-5]\d$/D', $value) === 1 ? null : 'A time of day such as 17:30.',
            'zone' => is_string($value) && in_array($value, \DateTimeZone::listIdentifiers(), true)
                ? null
                : 'A time zone such as Atlantic/Azores.',
            'text' => is_string($value) && trim($value) !== '' && mb_strlen($value) <= self::TEXT_MAX
                ? null
                : sprintf('Up to %d characters.', self::TEXT_MAX),
            'lines' => is_string($value) && mb_strlen($value) <= self::LINES_MAX ? null : sprintf('Up to %d characters.', self::LINES_MAX),
            'whole', 'money' => is_int($value) ? $this->beyond((float) $value) : 'A whole number.',
            default => (is_int($value) || is_float($value)) && is_finite((float) $value) ? $this->beyond((float) $value) : 'A number.',
        };
    }

    private function beyond(float $value): ?string
    {
        if (($this->min === null || $value >= $this->min) && ($this->max === null || $value <= $this->max)) {
            return null;
        }
        $scale = $this->kind === 'money' ? 100.0 : 1.0;
        $number = fn(?float $v): string => $v === null ? '' : rtrim(rtrim(number_format($v / $scale, 2, '.', ''), '0'), '.');

        return trim(sprintf('From %s to %s %s', $number($this->min), $number($this->max), $this->unit)) .
            ($this->source !== '' && $this->group === Settings::LIMITS
                ? ': a shop may be stricter than the handbook, not more lenient.'
                : '.');
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'key' => $this->key,
            'group' => $this->group,
            'title' => $this->title,
            'kind' => $this->kind,
            'changes' => $this->changes,
            'default' => $this->default,
            'unit' => $this->unit,
            'min' => $this->min,
            'max' => $this->max,
            'choices' => (object) $this->choices,
            'source' => $this->source,
        ];
    }
}
