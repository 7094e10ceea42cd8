<?php

declare(strict_types=1);

namespace Heartwood\Core\Service;

use Heartwood\Core\Repair\Options;
use Heartwood\Core\Repair\RepairAction;

/**
 * Why a pack that went back may have come in again, from what it was then, what was done, and what is found now. Proposed only: whoever
 * closes the job names it (handbook "A pack that comes back").
 */
final readonly class Comeback
{
    /** What was told or seen that no work of a bench brings about. */
    private const USED = [
        'wet' => 'it got wet',
        'salt_water' => 'salt water has been in it',
        'dropped' => 'it was dropped',
        'short-circuited' => 'it was short-circuited',
        'modified' => 'somebody has changed it',
        'crushed' => 'it has been crushed',
        'burnt' => 'it is burnt',
        'punctured' => 'it is punctured',
    ];

    /** Findings that come of how a pack was left or driven. */
    private const USED_UP = ['pack.discharged', 'pack.deep-discharged', 'load.exceeds-cells', 'load.shorted', 'charger.wrong-voltage'];

    /** What is touched whenever a pack is opened and closed. */
    private const OF_HANDS = ['joint.', 'sense.', 'path.connector'];

    private function __construct(public Cause $cause, public string $why) {}

    /**
     * @param  list<array{code: string, where?: array<string, mixed>|null}>  $was  what it was the time before, in the end
     * @param  list<array{action: string, where?: list<array<string, mixed>|null>}>  $done  what was done then
     * @param  list<array{code: string, where: array<string, mixed>|null, probability: float, severity: string, title: string}>  $found
     *   now, as a verdict has it
     * @param  list<string>  $symptoms  told now
     * @param  array<string, mixed>  $inspection  seen now
     * @return self|null null while nothing tells
     */
    public static function of(array $was, array $done, array $found, array $symptoms, array $inspection): ?self
    {
        foreach (self::USED as $key => $text) {
            if (in_array($key, $symptoms, true) || ($inspection[$key] ?? null) === true) {
                return new self(Cause::Use, $text);
            }
        }
        $calls = array_values(
            array_filter(
                $found,
                fn(array $f): bool => $f['probability'] >= Options::ACT && $f['severity'] !== 'note' && $f['code'] !== 'pack.spread',
            ),
        );
        foreach ($calls as $f) {
            foreach ($was as $w) {
                if ($w['code'] === $f['code'] && ($w['where'] ?? null) == $f['where']) {
                    return new self(Cause::SameFault, "{$f['title']}: it was so the time before");
                }
            }
        }
        foreach ($calls as $f) {
            $work = self::touched($f, $done);
            if ($work !== null) {
                return new self(Cause::OurWork, "{$f['title']}: the time before, \"$work\" was done there");
            }
        }
        foreach ($calls as $f) {
            if (in_array($f['code'], self::USED_UP, true)) {
                return new self(Cause::Use, $f['title']);
            }
        }

        return $calls === [] ? null : new self(Cause::OtherFault, "{$calls[0]['title']}: it was not so the time before");
    }

    /**
     * @param  array{code: string, where: array<string, mixed>|null}  $finding
     * @param  list<array{action: string, where?: list<array<string, mixed>|null>}>  $done
     * @return string|null the title of the work that touched the place
     */
    private static function touched(array $finding, array $done): ?string
    {
        $byHand = array_filter(self::OF_HANDS, fn(string $of): bool => str_starts_with($finding['code'], $of)) !== [];
        foreach ($done as $d) {
            $action = RepairAction::tryFrom($d['action']);
            if ($action === null) {
                continue;
            }
            $there = $finding['where'] !== null && in_array($finding['where'], $d['where'] ?? [], false);
            $board = $action === RepairAction::ReplaceBoard && str_starts_with($finding['code'], 'bms.');
            if ($there || $board || ($byHand && $action->altersPack())) {
                return $action->title();
            }
        }

        return null;
    }
}
