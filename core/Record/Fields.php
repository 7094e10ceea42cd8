<?php

declare(strict_types=1);

namespace Heartwood\Core\Record;

/** Typed look into one decoded JSON object whose shape the schema has already checked. */
final readonly class Fields
{
    /** @param  array<array-key, mixed>  $data */
    public function __construct(private array $data) {}

    public static function of(mixed $data): self
    {
        return new self(is_array($data) ? $data : []);
    }

    /** @return array<string, mixed> all of it that has a name, as it came */
    public function all(): array
    {
        return array_filter($this->data, is_string(...), ARRAY_FILTER_USE_KEY);
    }

    public function has(string $key): bool
    {
        return isset($this->data[$key]);
    }

    /** A value as it came, for what has no type of its own. */
    public function raw(string $key): mixed
    {
        return $this->data[$key] ?? null;
    }

    public function float(string $key): ?float
    {
        $value = $this->data[$key] ?? null;

        return is_int($value) || is_float($value) ? (float) $value : null;
    }

    public function int(string $key): ?int
    {
        $value = $this->data[$key] ?? null;

        return is_int($value) ? $value : (is_float($value) && $value === floor($value) ? (int) $value : null);
    }

    public function string(string $key): ?string
    {
        $value = $this->data[$key] ?? null;

        return is_string($value) ? $value : null;
    }

    public function bool(string $key): ?bool
    {
        $value = $this->data[$key] ?? null;

        return is_bool($value) ? $value : null;
    }

    public function object(string $key): self
    {
        return self::of($this->data[$key] ?? null);
    }

    /** @return list<self> */
    public function objects(string $key): array
    {
        $value = $this->data[$key] ?? null;

        return is_array($value) ? array_map(self::of(...), array_values($value)) : [];
    }

    /** @return list<string> */
    public function strings(string $key): array
    {
        $value = $this->data[$key] ?? null;

        return is_array($value) ? array_values(array_filter($value, is_string(...))) : [];
    }

    /** @return list<float|null> numbers of a list, null where it holds none */
    public function numbers(string $key): array
    {
        $value = $this->data[$key] ?? null;

        return is_array($value)
            ? array_map(fn(mixed $v): ?float => is_int($v) || is_float($v) ? (float) $v : null, array_values($value))
            : [];
    }
}
