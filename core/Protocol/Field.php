<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol;

use Heartwood\Core\Reading\TypedValue;

/** One thing that a step asks for. */
final readonly class Field
{
    /**
     * @param  'number'|'numbers'|'volts'|'yes-no'|'choice'|'marks'|'text'  $kind  volts: of every group, as typed; numbers: one a group
     * @param  list<string>  $options  of a choice or of marks
     * @param  string|null  $value  what it begins with
     */
    private function __construct(
        public string $name,
        public string $label,
        public string $kind,
        public bool $optional = false,
        public array $options = [],
        public ?float $least = null,
        public ?float $most = null,
        public ?string $value = null,
        public string $why = '',
    ) {}

    /** A number in the unit that its label names. */
    public static function number(string $name, string $label, float $least, float $most, bool $optional = false): self
    {
        return new self($name, $label, 'number', $optional, [], $least, $most);
    }

    /** A number for every group, "-" where there is none. */
    public static function numbers(string $name, string $label, float $least, float $most): self
    {
        return new self($name, $label, 'numbers', false, [], $least, $most);
    }

    /** Volts of every group, one by one or from B-. */
    public static function volts(string $name, string $label): self
    {
        return new self($name, $label, 'volts');
    }

    public static function yesNo(string $name, string $label, bool $optional = false): self
    {
        return new self($name, $label, 'yes-no', $optional);
    }

    /** @param  list<string>  $options */
    public static function choice(string $name, string $label, array $options, ?string $value = null): self
    {
        return new self($name, $label, 'choice', false, $options, null, null, $value);
    }

    /** @param  list<string>  $options */
    public static function marks(string $name, string $label, array $options): self
    {
        return new self($name, $label, 'marks', true, $options);
    }

    public static function text(string $name, string $label, bool $optional = false): self
    {
        return new self($name, $label, 'text', $optional);
    }

    /** The same, with what it begins with. */
    public function with(?string $value): self
    {
        return new self(
            $this->name,
            $this->label,
            $this->kind,
            $this->optional,
            $this->options,
            $this->least,
            $this->most,
            $value,
            $this->why,
        );
    }

    /** The same, with why it is asked. */
    public function because(string $why): self
    {
        return new self(
            $this->name,
            $this->label,
            $this->kind,
            $this->optional,
            $this->options,
            $this->least,
            $this->most,
            $this->value,
            $why,
        );
    }

    /**
     * What is wrong with what was typed.
     *
     * @param  mixed  $typed  number, text, truth or a list of words
     * @return string|null the mend; null when it can be taken
     */
    public function problem(mixed $typed, int $series): ?string
    {
        if ($typed === null || $typed === '' || $typed === []) {
            return $this->optional ? null : 'This is needed here.';
        }

        return match ($this->kind) {
            'number' => $this->outside($typed),
            'yes-no' => is_bool($typed) ? null : 'Answer yes or no.',
            'choice' => in_array($typed, $this->options, true) ? null : 'One of: ' . implode(', ', $this->options) . '.',
            'marks' => $this->unknown($typed) === [] ? null : 'Of: ' . implode(', ', $this->options) . '.',
            'text' => is_string($typed) && trim($typed) !== '' ? null : 'Say it in words.',
            default => is_string($typed) ? $this->row($typed, $series) : 'Numbers with blanks between them.',
        };
    }

    /** @return list<mixed> what is marked and is none of its options */
    private function unknown(mixed $typed): array
    {
        return array_values(array_filter(is_array($typed) ? $typed : [$typed], fn(mixed $m): bool => !in_array($m, $this->options, true)));
    }

    private function outside(mixed $typed): ?string
    {
        $n = is_string($typed) ? TypedValue::parse($typed)?->volts : (is_numeric($typed) ? (float) $typed : null);
        if ($n === null) {
            return 'Type a number such as 3.71.';
        }

        return ($this->least !== null && $n < $this->least) || ($this->most !== null && $n > $this->most)
            ? sprintf('Between %s and %s: look at the unit.', self::shown($this->least), self::shown($this->most))
            : null;
    }

    private function row(string $typed, int $series): ?string
    {
        $parts = TypedGroups::split($typed);
        if (count($parts) !== $series) {
            return sprintf('A number for each of the %d groups, "-" where there is none: these are %d.', $series, count($parts));
        }
        foreach ($parts as $i => $p) {
            if ($p !== '-' && TypedValue::parse($p) === null) {
                return sprintf('The one for group %d, "%s", is not a number.', $i + 1, mb_substr($p, 0, 12));
            }
            if ($this->kind === 'numbers' && $p !== '-' && ($why = $this->outside($p)) !== null) {
                return sprintf('Group %d: %s', $i + 1, lcfirst($why));
            }
        }

        return array_filter($parts, fn(string $p): bool => $p !== '-') === [] ? 'At least one group is read.' : null;
    }

    private static function shown(?float $n): string
    {
        return $n === null ? 'anything' : rtrim(rtrim(sprintf('%.3f', $n), '0'), '.');
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'name' => $this->name,
            'label' => $this->label,
            'kind' => $this->kind,
            'optional' => $this->optional,
            'options' => $this->options,
            'value' => $this->value,
            'why' => $this->why,
        ];
    }
}
