<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol;

/** What a guided run came to, with its reasons, and what of it goes to the record and to the proof. */
final readonly class Outcome
{
    /**
     * @param  'pass'|'fail'|'cannot-tell'  $word
     * @param  list<string>  $reasons
     * @param  list<array<string, mixed>>  $tests  of the record, as its schema has them
     * @param  array<string, array<string, mixed>>  $proof  entries of acceptance checks, by the check's code
     */
    private function __construct(
        public string $word,
        public string $text,
        public array $reasons,
        public array $tests,
        public array $proof,
    ) {}

    /**
     * What stops it from telling outweighs what it found.
     *
     * @param  bool  $good  what was found, where nothing stops it
     * @param  list<string>  $missing  why it cannot tell
     * @param  list<string>  $reasons  for what was found
     * @param  list<array<string, mixed>>  $tests
     * @param  array<string, array<string, mixed>>  $proof
     */
    public static function of(bool $good, array $missing, string $text, array $reasons = [], array $tests = [], array $proof = []): self
    {
        return new self($missing !== [] ? 'cannot-tell' : ($good ? 'pass' : 'fail'), $text, [...$missing, ...$reasons], $tests, $proof);
    }

    /** @return array{word: string, text: string, reasons: list<string>} */
    public function toArray(): array
    {
        return ['word' => $this->word, 'text' => $this->text, 'reasons' => $this->reasons];
    }
}
