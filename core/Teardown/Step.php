<?php

declare(strict_types=1);

namespace Heartwood\Core\Teardown;

/**
 * One thing that came off: how many of what, where, how it lay, with which tool; hidden for whoever opens the next; of a lead the volts
 * against B- that were measured on it, for its colour proves nothing.
 */
final readonly class Step
{
    public function __construct(
        public string $id,
        public Part $part,
        public int $count,
        public string $what,
        public string $where = '',
        public string $remark = '',
        public bool $hidden = false,
        public ?float $volts = null,
        public ?string $photo = null,
        public ?float $minutes = null,
        public string $tool = '',
        public string $lay = '',
    ) {}

    /** What it is counted as: fasteners by kind and length, however they were written. */
    public function kind(): string
    {
        return self::plain($this->what);
    }

    /** "11 screws M3x8, lid". */
    public function words(): string
    {
        return ($this->count === 1 ? '' : "$this->count x ") . $this->what . ($this->where === '' ? '' : ", $this->where");
    }

    /** "T10; heads to the board", or nothing. */
    public function how(): string
    {
        return implode('; ', array_filter([$this->tool, $this->lay], fn(string $s): bool => $s !== ''));
    }

    /** What is the same under two hands: no capitals, no blanks twice, no plural. */
    public static function plain(string $text): string
    {
        $words = preg_split('/\s+/', mb_strtolower(trim($text))) ?: [];

        return implode(' ', array_map(fn(string $w): string => preg_match('/^[a-z-]{3,}s$/', $w) === 1 ? substr($w, 0, -1) : $w, $words));
    }
}
