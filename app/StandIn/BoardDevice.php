<?php

declare(strict_types=1);

namespace App\StandIn;

/** A board that reports its groups in our open line format: "report" is answered by lines, the last of them "end". */
final class BoardDevice
{
    public function __construct(private readonly VirtualBench $bench) {}

    public function message(string $line): string
    {
        $this->bench->tick();
        if (!in_array(strtolower(trim($line)), ['report', 'report?'], true)) {
            return 'error the only question is "report"';
        }
        $out = ['# board report 1'];
        $profile = $this->bench->chemistry->profile();
        $flags = [];
        for ($k = 1; $k <= $this->bench->series(); $k++) {
            $v = round($this->bench->pack->volts($k), 3);
            $out[] = sprintf('group %d %.3f V', $k, $v);
            if ($v < $profile->boardLowV) {
                $flags = ['under-voltage', 'discharge-off'];
            } elseif ($v > $profile->boardHighV) {
                $flags = ['over-voltage', 'charge-off'];
            }
        }
        $out[] = sprintf('temperature %.1f', $this->bench->pack->groups[0]->c);
        $out[] = sprintf('current %.2f', -$this->bench->loadA);
        if ($flags !== []) {
            $out[] = 'flags ' . implode(' ', $flags);
        }

        return implode("\n", [...$out, 'end']);
    }
}
