<?php

declare(strict_types=1);

namespace Heartwood\Core\Proof;

/** One acceptance check: passed, failed, missing or not needed, with what was found and the limit it was held against. */
final readonly class CheckResult
{
    private function __construct(
        public Check $check,
        public string $status,
        public string $found,
        public string $limit,
        public string $basis,
        public ?string $settle = null,
        public string $settleText = '',
    ) {}

    /** The same, with the field of the intake that nobody filled and that would settle it. */
    public function settledBy(string $field, string $text): self
    {
        return new self($this->check, $this->status, $this->found, $this->limit, $this->basis, $field, $text);
    }

    public static function of(Check $check, bool $passed, string $found, string $limit, string $basis = 'measured'): self
    {
        return new self($check, $passed ? 'passed' : 'failed', $found, $limit, $basis);
    }

    public static function missing(Check $check, string $limit, string $why = 'not measured'): self
    {
        return new self($check, 'missing', $why, $limit, 'assumed');
    }

    public static function notNeeded(Check $check, string $why): self
    {
        return new self($check, 'not-needed', $why, '', 'assumed');
    }

    /**
     * @return array{code: string, title: string, status: string, found: string, limit: string, basis: string,
     *   settle: array{field: string, text: string}|null, fields: list<array{
     *   name: string, label: string, kind: string}>}
     */
    public function toArray(): array
    {
        return [
            'code' => $this->check->value,
            'title' => $this->check->title(),
            'status' => $this->status,
            'found' => $this->found,
            'limit' => $this->limit,
            'basis' => $this->basis,
            'settle' => $this->settle === null ? null : ['field' => $this->settle, 'text' => $this->settleText],
            'fields' => $this->check->fields(),
        ];
    }
}
