<?php

declare(strict_types=1);

namespace App\Actions;

/** An action that must not happen now: a gate, a conflict, a missing right. The message says why and the way out. */
final class Refused extends \RuntimeException
{
    /**
     * @param  array<string, string>  $fields  which entry it is about, and the mend
     * @param  array<string, string>  $headers
     * @param  array<string, mixed>  $more  what else the screen needs to show both sides
     */
    public function __construct(
        public readonly string $reason,
        string $message,
        public readonly int $status = 409,
        public readonly array $fields = [],
        public readonly array $headers = [],
        public readonly array $more = [],
    ) {
        parent::__construct($message);
    }
}
