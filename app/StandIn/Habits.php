<?php

declare(strict_types=1);

namespace App\StandIn;

use React\EventLoop\Loop;
use React\Socket\Connection;
use React\Socket\ConnectionInterface;

/** What real instruments do beside the standard, put over a stand-in on request: one word a habit. */
final class Habits
{
    public const ALL = [
        'echo' => 'sends back every line that it hears',
        'prompt' => 'writes a prompt after every line',
        'banner' => 'greets whoever connects',
        'cr' => 'ends its lines with CR alone',
        'crlf' => 'ends its lines with CR LF',
        'units' => 'writes the unit behind a number',
        'plain' => 'writes numbers without an exponent',
        'ovld' => 'says OVLD for an overload',
        'ol' => 'says OL for an overload',
        'plus-errors' => 'writes +0 before the empty queue',
        'bare-errors' => 'writes the number of an error alone',
        'words' => 'says ON and OFF',
        'no-apply' => 'knows no APPLy',
        'no-protection' => 'knows no VOLTage:PROTection',
        'one-client' => 'takes one client only',
        'one-shot' => 'hangs up after every answer',
        'late' => 'answers every third measurement after a second and a half',
        'drip' => 'sends a letter every 0.3 s',
        'endless' => 'answers a measurement without end',
        'binary' => 'answers a measurement with no text',
        'nan' => 'measures "not a number"',
        'inf' => 'measures infinity',
        'overload' => 'measures overload',
        'mute' => 'hears and says nothing',
        'deaf' => 'accepts set-points and keeps 12 V, 3 A',
        'late-error' => 'puts its errors on the queue late, and answers for them late',
        'stays-on' => 'has no timer that ends its output',
        'sticks' => 'does not switch off when told to',
        'channel-inst' => 'wants INSTrument:NSELect 2 first',
        'channel-name' => 'wants CH2 with every word',
        'channel-list' => 'wants (@2) with every word',
    ];

    private int $clients = 0;

    private int $measured = 0;

    private int $channel = 1;

    /** @var array<int, true> connections that were let in */
    private array $in = [];

    /** @param  list<string>  $have */
    public function __construct(private readonly array $have)
    {
        foreach ($have as $h) {
            if (!isset(self::ALL[$h])) {
                throw new \RuntimeException("there is no habit '$h'");
            }
        }
    }

    /** @return bool whether this client is taken at all */
    public function greets(ConnectionInterface $c): bool
    {
        if ($this->has('one-client') && $this->clients > 0) {
            $c->close();

            return false;
        }
        $this->clients++;
        $this->in[spl_object_id($c)] = true;
        if ($this->has('banner')) {
            self::write($c, "Bench instrument, ready.\r\n");
        }

        return true;
    }

    public function left(ConnectionInterface $c): void
    {
        if (isset($this->in[spl_object_id($c)])) {
            unset($this->in[spl_object_id($c)]);
            $this->clients--;
        }
    }

    /** @param  \Closure(string): ?string  $device */
    public function answer(ConnectionInterface $c, string $line, \Closure $device): void
    {
        if ($this->has('echo')) {
            self::write($c, $line . $this->end());
        }
        $says = $this->has('mute') ? null : $this->says($line, $device);
        $measures = preg_match('/^:?(MEAS|READ|FETC)/i', $line) === 1;
        if ($says !== null && $this->has('endless') && $measures) {
            self::write($c, str_repeat('9', 60000));
            $timer = Loop::addPeriodicTimer(0.01, fn() => self::write($c, str_repeat('9', 60000)));
            $c->on('close', fn() => Loop::cancelTimer($timer));

            return;
        }
        $bytes = $says === null ? '' : $says . $this->end();
        $late =
            ($this->has('late') && $measures && ++$this->measured % 3 === 0) ||
            ($this->has('late-error') && stripos($line, 'ERR') !== false);
        if ($this->has('drip') && $measures) {
            $this->drip($c, $bytes);
        } elseif ($late) {
            Loop::addTimer(1.5, fn() => self::write($c, $bytes));
        } else {
            self::write($c, $bytes . ($this->has('prompt') ? 'ready> ' : ''));
            if ($this->has('one-shot') && $bytes !== '') {
                $c->end();
            }
        }
    }

    /** @param  \Closure(string): ?string  $device */
    private function says(string $line, \Closure $device): ?string
    {
        $plain = $this->addressed($line);
        if ($plain === null) {
            return $this->has('channel-inst') && stripos($line, 'MEAS') !== false ? '+0.00000000E+0' : $device('NOT:THIS');
        }
        foreach (
            [
                'no-apply' => '/^:?APPL/i',
                'no-protection' => '/PROT/i',
                'stays-on' => '/TIM/i',
                'deaf' => '/^:?(APPL|VOLT|CURR)\w*(:\w+)*\s/i',
                'sticks' => '/^OUTP\w*\s+(OFF|0)/i',
            ]
            as $habit => $pattern
        ) {
            if ($this->has($habit) && preg_match($pattern, $plain) === 1) {
                return in_array($habit, ['deaf', 'sticks'], true) ? null : $device('NOT:KNOWN');
            }
        }
        if ($this->has('deaf') && preg_match('/^:?(VOLT|CURR)\?$/i', $plain, $m) === 1) {
            return strtoupper($m[1]) === 'VOLT' ? '+1.20000000E+1' : '+3.00000000E+0';
        }
        $answer = $device($plain);

        return $answer === null ? null : $this->dressed($plain, $answer);
    }

    /** @return string|null the message without its channel; null when it is for another one */
    private function addressed(string $line): ?string
    {
        if ($this->has('channel-inst')) {
            if (preg_match('/^:?INST\w*:NSEL\w*\s+(\d+)/i', $line, $m) === 1) {
                $this->channel = (int) $m[1];

                return '*WAI';
            }

            return $this->channel === 2 || $line[0] === '*' || stripos($line, 'SYST') === 0 ? $line : null;
        }
        foreach (['channel-name' => '/\s*CH(\d+),?/i', 'channel-list' => '/,?\s*\(@(\d+)\)/'] as $habit => $pattern) {
            if ($this->has($habit) && $line[0] !== '*' && stripos($line, 'SYST') !== 0) {
                if (preg_match($pattern, $line, $m) !== 1 || $m[1] !== '2') {
                    return null;
                }
                $line = (string) preg_replace($pattern, $habit === 'channel-name' ? ' ' : '', $line);

                return rtrim($line);
            }
        }

        return $line;
    }

    private function dressed(string $line, string $answer): string
    {
        $measures = preg_match('/^:?(MEAS|READ|FETC)/i', $line) === 1;
        if ($measures) {
            $answer = match (true) {
                $this->has('binary') => "\xff\xfe\x01\x80",
                $this->has('nan') => '9.91E37',
                $this->has('inf') => '+INF',
                $this->has('overload') => '+9.90000000E+37',
                default => $answer,
            };
        }
        if (stripos($line, 'ERR') !== false) {
            return $this->has('bare-errors')
                ? explode(',', $answer)[0]
                : ($this->has('plus-errors') && $answer[0] === '0'
                    ? '+' . $answer
                    : $answer);
        }
        if ($this->has('words') && preg_match('/^(OUTP|INP)\w*(:STAT\w*)?\?/i', $line) === 1) {
            return $answer === '1' ? 'ON' : 'OFF';
        }
        if (str_starts_with($answer, '9.9')) {
            return $this->has('ovld') ? 'OVLD' : ($this->has('ol') ? 'OL' : $answer);
        }
        if (preg_match('/^[+-]\d\.\d{8}E[+-]\d+$/', $answer) === 1) {
            $answer = $this->has('plain') || $this->has('units') ? rtrim(rtrim(sprintf('%.4F', (float) $answer), '0'), '.') : $answer;
            $unit =
                preg_match('/VOLT/i', $line) === 1
                    ? 'V'
                    : (preg_match('/CURR/i', $line) === 1
                        ? 'A'
                        : (preg_match('/TEMP/i', $line) === 1
                            ? 'C'
                            : ''));

            return $this->has('units') ? $answer . $unit : $answer;
        }

        return $answer;
    }

    private function drip(ConnectionInterface $c, string $bytes): void
    {
        foreach (str_split($bytes) as $i => $byte) {
            Loop::addTimer(0.3 * ($i + 1), fn() => self::write($c, $byte));
        }
    }

    private function end(): string
    {
        return $this->has('cr') ? "\r" : ($this->has('crlf') ? "\r\n" : "\n");
    }

    private function has(string $habit): bool
    {
        return in_array($habit, $this->have, true);
    }

    /** Straight into the socket: a buffer would be thrown away with a client that has shut its side already. */
    private static function write(ConnectionInterface $c, string $bytes): void
    {
        if ($bytes === '') {
            return;
        }
        if ($c instanceof Connection && is_resource($c->stream) && ($n = @fwrite($c->stream, $bytes)) !== false && $n < strlen($bytes)) {
            $bytes = substr($bytes, $n);
        } elseif ($c instanceof Connection) {
            return;
        }
        $c->write($bytes);
    }
}
