<?php

declare(strict_types=1);

namespace Heartwood\Core\Teardown;

/**
 * The way back: the steps in reverse, each with what it was; what does not hold twice is on the parts list; a tug where a conductor was
 * undone, the insulation before the case is closed, and the fasteners counted back (handbook "Teardown log and the way back").
 */
final readonly class WayBack
{
    /**
     * @param  list<array{
     *     step: string|null,
     *     of: string,
     *     act: 'put-back'|'renew'|'connect'|'tug'|'insulation'|'count',
     *     text: string
     * }>  $steps  of: the step that it is, or that a check proves or goes before
     * @param  array<string, int>  $renew  how many of what must be new
     * @param  array<string, int>  $fasteners  how many of each kind came out
     */
    private function __construct(public array $steps, public array $renew, public array $fasteners) {}

    /** @param  list<Step>  $taken  in the order in which they came off */
    public static function of(array $taken): self
    {
        $out = $renew = $fasteners = [];
        $conducted = $proved = false;
        foreach (array_reverse($taken) as $s) {
            // Covers close what conducts: the insulation is proved before the first of them.
            if ($conducted && !$proved && ($s->part === Part::Lid || $s->part === Part::Fastener)) {
                $out[] = self::check($s->id, 'insulation', 'Measure the insulation from the case to the terminals before it is closed.');
                $proved = true;
            }
            if ($s->part->isRenewed()) {
                $out[] = self::step($s->id, 'renew', 'New: ' . $s->words());
                $renew[$s->what] = ($renew[$s->what] ?? 0) + $s->count;
            } elseif ($s->part === Part::Lead || $s->part === Part::Connector) {
                $out[] = self::step($s->id, 'connect', 'Connect ' . $s->words() . self::expects($s));
            } else {
                $out[] = self::step($s->id, 'put-back', 'Put back ' . $s->words());
            }
            if ($s->part->conducts()) {
                $conducted = true;
                $proved = false;
                $out[] = self::check($s->id, 'tug', "Tug at $s->what: it must not give.");
            }
            if ($s->part === Part::Fastener) {
                $fasteners[$s->kind()] = ($fasteners[$s->kind()] ?? 0) + $s->count;
            }
        }
        if ($conducted && !$proved) {
            $out[] = self::check('', 'insulation', 'Measure the insulation from the case to the terminals.');
        }
        if ($fasteners !== []) {
            ksort($fasteners);
            $out[] = self::check('', 'count', 'Count: nothing left over, nothing missing.');
        }

        return new self($out, $renew, $fasteners);
    }

    /**
     * Fasteners that were counted back against those that came out.
     *
     * @param  array<string, int>  $back  how many of each kind went back in
     * @return list<array{kind: string, out: int, back: int, text: string}> only those that differ
     */
    public function missing(array $back): array
    {
        $out = [];
        foreach ($this->fasteners as $kind => $n) {
            $in = $back[$kind] ?? 0;
            if ($in !== $n) {
                $out[] = [
                    'kind' => $kind,
                    'out' => $n,
                    'back' => $in,
                    'text' => $in < $n ? $n - $in . " $kind left over" : $in - $n . " $kind more than came out",
                ];
            }
        }

        return $out;
    }

    /**
     * Whether a check still proves what it proved: nothing came off since, and of a count, nothing went back since.
     *
     * @param  float  $doneS  unix seconds of the check
     * @param  float  $takenS  of the latest step that came off
     * @param  float  $backS  of the latest that went back
     */
    public static function stillHolds(string $act, float $doneS, float $takenS, float $backS): bool
    {
        return $doneS > $takenS && ($act !== 'count' || $doneS >= $backS);
    }

    private static function expects(Step $s): string
    {
        return $s->volts === null
            ? '. Measure it first: nothing was noted.'
            : sprintf(': it must read %.3g V against B- first.', $s->volts);
    }

    /**
     * @param  'put-back'|'renew'|'connect'  $act
     * @return array{step: string, of: string, act: 'put-back'|'renew'|'connect', text: string}
     */
    private static function step(string $of, string $act, string $text): array
    {
        return ['step' => $of, 'of' => $of, 'act' => $act, 'text' => $text];
    }

    /**
     * @param  'tug'|'insulation'|'count'  $act
     * @return array{step: null, of: string, act: 'tug'|'insulation'|'count', text: string}
     */
    private static function check(string $of, string $act, string $text): array
    {
        return ['step' => null, 'of' => $of, 'act' => $act, 'text' => $text];
    }
}
