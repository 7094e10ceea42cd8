<?php

declare(strict_types=1);

namespace Heartwood\Core\Repair;

use Heartwood\Core\Record\PackSpec;

/** Which way of waking a board to try first, for this kind of pack: gentlest and likeliest first. */
final readonly class WakeOrder
{
    private const TEXT = [
        'button' => 'Press the button on the pack, hold it for five seconds.',
        'enable-wire' => 'Tie the enable wire as the device does, and read the output steadily.',
        'device' => 'Put it into its device and switch that on: some boards wait to be spoken to.',
        'charger-pulse' => 'Put its own charger on for ten seconds, take it off, read the output.',
        'reconnect' => 'Unplug the board\'s sense connector and main lead, wait a minute, plug in again: battery side last.',
        'bridge' => 'Bridge B- to P- through a resistor of 100 ohm for one second: only with every group past the release voltage.',
    ];

    /**
     * @param  list<float|null>  $groupsV
     * @param  list<string>  $tried  actions that did not wake it
     * @return array{ready: bool, why: string, actions: list<array{action: string, text: string, tried: bool}>}
     */
    public static function of(PackSpec $pack, array $groupsV, array $tried = []): array
    {
        $first = match ($pack->bms->string('wake')) {
            'button' => ['button'],
            'enable-wire' => ['enable-wire'],
            'device' => ['device'],
            'charger' => ['charger-pulse'],
            default => match ($pack->kind) {
                'tool', 'laptop' => ['device', 'charger-pulse'],
                'scooter', 'e-bike' => ['button', 'charger-pulse'],
                default => ['charger-pulse'],
            },
        };
        $order = array_values(array_unique([...$first, 'charger-pulse', 'button', 'enable-wire', 'device', 'reconnect', 'bridge']));
        $low = [];
        foreach ($groupsV as $i => $v) {
            if ($v === null || $v < $pack->lowReleaseV()) {
                $low[] = $i + 1;
            }
        }

        return [
            'ready' => $low === [],
            'why' =>
                $low === []
                    ? 'Every group is past the release voltage.'
                    : sprintf(
                        'Group %s %s not past %.2f V: the board is doing its job until that is mended.',
                        implode(', ', $low),
                        count($low) === 1 ? 'is' : 'are',
                        $pack->lowReleaseV(),
                    ),
            'actions' => array_map(
                fn(string $a): array => ['action' => $a, 'text' => self::TEXT[$a], 'tried' => in_array($a, $tried, true)],
                $order,
            ),
        ];
    }
}
