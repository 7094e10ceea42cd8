<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol\Kind;

use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Protocol\Course;
use Heartwood\Core\Protocol\Entry;
use Heartwood\Core\Protocol\Field;
use Heartwood\Core\Protocol\Needs;
use Heartwood\Core\Protocol\Outcome;
use Heartwood\Core\Protocol\Protocol;
use Heartwood\Core\Protocol\Step;
use Heartwood\Core\Repair\WakeOrder;

/** Ways of waking a board, the gentlest and likeliest first; the output is read after each. */
final class Wake extends Protocol
{
    /** Of the string's volts at the output, from which it is awake (assumed). */
    private const AWAKE = 0.8;

    private const TRY = 'try-';

    public function code(): string
    {
        return 'wake';
    }

    public function title(): string
    {
        return 'Wake the board';
    }

    public function why(): string
    {
        return 'One action after another, the output read after each: the first that works is how it is woken from now on.';
    }

    public function tests(): array
    {
        return [TestKind::Wake];
    }

    public function needs(Course $c): array
    {
        $order = $this->order($c);

        return [new Needs($order['why'], $order['ready'], 'probe', 'Read the groups')];
    }

    /** @return array{ready: bool, why: string, actions: list<array{action: string, text: string, tried: bool}>} */
    private function order(Course $c): array
    {
        return WakeOrder::of($c->pack, array_map(fn($g): ?float => $g->restV, $c->evidence->groups));
    }

    public function steps(Course $c): array
    {
        $steps = [];
        foreach ($this->order($c)['actions'] as $a) {
            $step = self::TRY . $a['action'];
            $steps[] = Step::ask($step, $a['text'], [Field::number('output_v', 'Output after it, V', 0.0, self::MOST_V)])->may();
            if ($this->awake($c, $step) || $c->all($step) === []) {
                break;
            }
        }

        return $steps;
    }

    private function awake(Course $c, string $step): bool
    {
        $v = $c->values($step)->float('output_v');
        $whole = array_sum(array_map(fn($g): float => $g->restV ?? 0.0, $c->evidence->groups));

        return $v !== null && $whole > 0.0 && $v >= self::AWAKE * $whole;
    }

    public function watch(Course $c): array
    {
        return ['Read the output with the meter\'s low-impedance input: a floating one shows volts that are not there.'];
    }

    public function outcome(Course $c): Outcome
    {
        $tests = $reasons = [];
        $woke = null;
        foreach ($c->entries as $e) {
            if ($e->left) {
                continue;
            }
            $action = substr($e->step, strlen(self::TRY));
            $awake = $this->awake($c, $e->step);
            $woke = $awake ? $action : $woke;
            $tests[] = ['kind' => 'wake', 'action' => $action, 'woke' => $awake];
            $reasons[] = sprintf('%s: %.2f V at the output.', ucfirst(str_replace('-', ' ', $action)), $e->fields()->float('output_v'));
        }
        $left = count(array_filter($c->entries, fn(Entry $e): bool => $e->left));

        return Outcome::of(
            $woke !== null,
            $woke === null && $left > 0 ? [sprintf('%d of the ways %s left out.', $left, $left === 1 ? 'was' : 'were')] : [],
            $woke === null ? 'It did not wake' : 'Woken by: ' . str_replace('-', ' ', $woke),
            $reasons,
            $tests,
        );
    }
}
