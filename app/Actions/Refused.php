<?php

declare(strict_types=1);

namespace App\Actions;

/** An action that must not happen now: a gate, a conflict, a missing right. The message says why and the way out. */
final class Refused extends \RuntimeException
{
    /** @param  array<string, string>  $fields  which entry it is about, and the mend */
    public function __construct(public readonly string $reason, string $message, public readonly int $status = 409, public readonly array $fields = [])
    {
        parent::__construct($message);
    }
}
