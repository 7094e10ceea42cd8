<?php

declare(strict_types=1);

use Heartwood\Core\Record\Fields;
use Heartwood\Core\Trainer\Ailment;
use Heartwood\Core\Trainer\Luck;
use Heartwood\Core\Trainer\Meter;
use Heartwood\Core\Trainer\Round;
use Heartwood\Core\Trainer\Rounds;

// What the tests of the trainer share: a round with one ailment, and acts in it.

/** A round with one ailment at a place of our choice, and a meter that errs little. */
function roundWith(Ailment $ailment, int $k = 2, int $seed = 5): Round
{
    // A round that nothing ails, of the steep chemistries.
    for ($n = $seed; ; $n++) {
        $round = Rounds::of(1, $n);
        if ($round->patient->truth === [] && $round->patient->spec->chemistry->value === 'nmc' && $round->patient->spec->parallel >= 3) {
            break;
        }
    }
    $ailment->befall($round->patient, new Luck('test', $ailment->value), $k);

    return new Round($round->patient, new Meter('bench', new Luck('test')), 1, "test/{$ailment->value}");
}

/** @return array<string, mixed> */
function act(Round $round, array $act): array
{
    return (array) $round->play(Fields::of($act))['result'];
}

function readAll(Round $round): array
{
    $out = [];
    for ($k = 1; $k <= $round->patient->spec->series; $k++) {
        $out[$k] = act($round, ['do' => 'read', 'from' => 'T' . ($k - 1), 'to' => "T$k"])['v'];
    }

    return $out;
}

/** Looked at, every group read, and answered: what was chosen may be carried out. */
function atWork(Ailment $said, int $k = 2, ?Ailment $truly = null): Round
{
    $round = roundWith($truly ?? $said, $k);
    act($round, ['do' => 'look']);
    readAll($round);
    $round->carryOut(
        Fields::of([
            'findings' => [
                [
                    'code' => $said->value,
                    'where' => $said === Ailment::Joint ? ['joint' => $k] : ($said->isAtGroup() ? ['group' => $k] : null),
                    'probability' => 0.9,
                ],
            ],
        ]),
    );

    return $round;
}

/** A group read at its clips, volts. */
function clip(Round $round, int $k): float
{
    return act($round, ['do' => 'read', 'from' => 'T' . ($k - 1), 'to' => "T$k"])['v'];
}

/** The first seed of a level whose pack has this and nothing else. */
function seedOf(Ailment $ailment, int $level): int
{
    for ($seed = 1; $seed < 2000; $seed++) {
        $truth = Rounds::of($level, $seed)->patient->truth;
        if (($truth === [] && $ailment === Ailment::Nothing) || ($truth[0]['code'] ?? '') === $ailment->value) {
            return $seed;
        }
    }
    throw new LogicException("no round of level $level has {$ailment->value}");
}

/** @return list<array<string, mixed>> acts of a pack with its groups brought up by themselves */
function broughtUp(int $k): array
{
    return [['do' => 'isolate'], ['do' => 'read', 'from' => 'T' . ($k - 1), 'to' => "T$k"], ['do' => 'supply', 'group' => $k]];
}

/** @param  list<array<string, mixed>>  $acts  @return array<string, mixed> what the last of them came to */
function workDone(Round $round, array $acts): array
{
    $last = [];
    foreach ($acts as $a) {
        $last = act($round, $a);
    }

    return $last;
}
