<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol;

/** What a charger trial tried, and what it did not (handbook "Protocols", charger trial). */
final readonly class Coverage
{
    /** @param  list<array{what: string, cycles: int}>  $rows  each condition, and in how many cycles it was tried */
    private function __construct(public array $rows) {}

    /**
     * @param  list<Cycle>  $cycles
     * @param  list<string>  $modes  that the charger shows
     */
    public static function of(array $cycles, array $modes): self
    {
        $count = fn(callable $is): int => count(array_filter($cycles, $is));
        $rows = [];
        foreach ($modes as $m) {
            $rows[] = ['what' => "mode \"$m\"", 'cycles' => $count(fn(Cycle $c): bool => $c->mode() === $m)];
        }
        foreach (['empty', 'half', 'full'] as $from) {
            $rows[] = ['what' => "from $from", 'cycles' => $count(fn(Cycle $c): bool => $c->begin->string('from') === $from)];
        }

        return new self([
            ...$rows,
            ['what' => 'a whole night', 'cycles' => $count(fn(Cycle $c): bool => $c->overnight())],
            ['what' => 'mains lost in mid-charge', 'cycles' => $count(fn(Cycle $c): bool => $c->end->bool('mains_lost') === true)],
            ['what' => 'a cold start', 'cycles' => $count(fn(Cycle $c): bool => $c->begin->bool('cold') === true)],
        ]);
    }

    /** @return list<string> what was not tried, in a sentence each */
    public function left(): array
    {
        $open = array_values(array_filter($this->rows, fn(array $r): bool => $r['cycles'] === 0));

        return $open === [] ? [] : ['Not tried: ' . implode(', ', array_column($open, 'what')) . '.'];
    }
}
