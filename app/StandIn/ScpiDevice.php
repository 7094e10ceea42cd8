<?php

declare(strict_types=1);

namespace App\StandIn;

/**
 * What every stand-in instrument has in common: the message syntax of IEEE 488.2 and SCPI 1999 (long and short forms,
 * compound messages, header paths), the common commands, the status registers and the error queue.
 */
abstract class ScpiDevice
{
    private const QUEUE = 20;

    /** Characters of a mnemonic at the most (IEEE 488.2, 7.6.1.4.1). */
    private const MNEMONIC = 12;

    private const OPC = 1;

    private const QUERY_ERROR_BIT = 4;

    private const EXECUTION_ERROR_BIT = 16;

    private const COMMAND_ERROR_BIT = 32;

    private const POWER_ON = 128;

    private int $event = self::POWER_ON;

    private int $eventEnable = 0;

    private int $serviceEnable = 0;

    /** @var list<array{int, string}> */
    private array $errors = [];

    /** @var list<array{string, callable}>|null */
    private ?array $compiled = null;

    /** @return array<string, callable(list<string>): (string|null)> by header, such as "MEASure[:SCALar]:VOLTage[:DC]?" */
    abstract protected function commands(): array;

    abstract protected function identity(): string;

    abstract protected function reset(): void;

    /** Answers one message; null when it asks nothing. */
    public function message(string $line): ?string
    {
        $line = trim($line);
        if ($line === '') {
            return null;
        }
        if (strlen($line) > 4000) {
            $this->error(-363);

            return null;
        }
        $answers = [];
        $path = [];
        foreach (self::units($line) as $unit) {
            try {
                $answer = $this->unit(trim($unit), $path);
                if ($answer !== null) {
                    $answers[] = $answer;
                }
            } catch (ScpiError $e) {
                $this->error($e->number, $e->getMessage());
                if ($e->number > -200) {
                    break; // a message that cannot be understood is not carried out any further
                }
            }
        }

        return $answers === [] ? null : implode(';', $answers);
    }

    protected function error(int $number, string $message = ''): void
    {
        $this->event |= $number <= -400 ? self::QUERY_ERROR_BIT : ($number <= -200 ? self::EXECUTION_ERROR_BIT : self::COMMAND_ERROR_BIT);
        if (count($this->errors) >= self::QUEUE) {
            $this->errors[self::QUEUE - 1] = [-350, ''];

            return;
        }
        $this->errors[] = [$number, $message];
    }

    /** @param  list<string>  $path */
    private function unit(string $unit, array &$path): ?string
    {
        if ($unit === '') {
            return null;
        }
        if (preg_match('/[^\x20-\x7e\t]/', $unit)) {
            throw new ScpiError(-101);
        }
        $space = strcspn($unit, " \t");
        $header = substr($unit, 0, $space);
        $rest = trim(substr($unit, $space));
        $arguments = $rest === '' ? [] : array_map(trim(...), str_getcsv($rest, ',', '"', ''));
        foreach ($arguments as $argument) {
            if (preg_match('/^[-+.\d]\S*[ \t]+[-+.\d]/', $argument) === 1) {
                throw new ScpiError(-103, $argument);
            }
        }
        if ($header[0] === '*') {
            return $this->common(strtoupper($header), $arguments);
        }
        $nodes = explode(':', ltrim($header, ':'));
        if (max(array_map(fn (string $n): int => strlen(rtrim($n, '?')), $nodes)) > self::MNEMONIC) {
            throw new ScpiError(-112, $header);
        }
        $full = $header[0] === ':' ? $nodes : [...$path, ...$nodes];
        $handler = $this->find(implode(':', $full)) ?? ($header[0] === ':' || $path === [] ? null : $this->find(implode(':', $full = $nodes)));
        if ($handler === null) {
            throw new ScpiError(-113, $header);
        }
        $path = array_slice($full, 0, -1);

        return $handler($arguments);
    }

    /** @param  list<string>  $a */
    private function common(string $header, array $a): ?string
    {
        $number = fn (): int => isset($a[0]) ? (is_numeric($a[0]) ? ((int) $a[0] >= 0 && (int) $a[0] < 256 ? (int) $a[0] : throw new ScpiError(-222)) : throw new ScpiError(-104)) : throw new ScpiError(-109);
        if (in_array($header, ['*ESE', '*SRE'], true)) {
            $header === '*ESE' ? $this->eventEnable = $number() : $this->serviceEnable = $number();

            return null;
        }
        if ($a !== []) {
            throw new ScpiError(-108, $header);
        }

        return match ($header) {
            '*IDN?' => $this->identity(),
            '*RST' => $this->done($this->reset(...)),
            '*CLS' => $this->done(function (): void {
                $this->errors = [];
                $this->event = 0;
            }),
            '*ESR?' => (string) $this->readEvent(),
            '*ESE?' => (string) $this->eventEnable,
            '*SRE?' => (string) $this->serviceEnable,
            '*STB?' => (string) (($this->errors !== [] ? 4 : 0) | (($this->event & $this->eventEnable) !== 0 ? 32 : 0)),
            '*OPC' => $this->done(fn (): int => $this->event |= self::OPC),
            '*OPC?' => '1',
            '*TST?' => '0',
            '*WAI' => null,
            default => throw new ScpiError(-113, $header),
        };
    }

    private function done(callable $work): null
    {
        $work();

        return null;
    }

    private function readEvent(): int
    {
        $e = $this->event;
        $this->event = 0;

        return $e;
    }

    private function find(string $header): ?callable
    {
        $this->compiled ??= $this->compile();
        foreach ($this->compiled as [$pattern, $handler]) {
            if (preg_match($pattern, $header)) {
                return $handler;
            }
        }

        return null;
    }

    /**
     * A query that takes nothing.
     *
     * @param  callable(): string  $answer
     * @return callable(list<string>): string
     */
    protected static function bare(callable $answer): callable
    {
        return fn (array $a): string => $a === [] ? $answer() : throw new ScpiError(-108, implode(',', $a));
    }

    /** @return list<array{string, callable}> */
    private function compile(): array
    {
        $out = [];
        $system = [
            'SYSTem:ERRor[:NEXT]?' => self::bare(fn (): string => ScpiError::line(...(array_shift($this->errors) ?? [0, '']))),
            'SYSTem:ERRor:COUNt?' => self::bare(fn (): string => (string) count($this->errors)),
            'SYSTem:VERSion?' => self::bare(fn (): string => '1999.0'),
        ];
        foreach ($system + $this->commands() as $header => $handler) {
            $query = str_ends_with($header, '?');
            $pattern = '';
            preg_match_all('/\[:?\w+:?\]|:?\w+/', $header, $nodes);
            foreach ($nodes[0] as $node) {
                $word = trim($node, '[]:');
                $short = (string) preg_replace('/[a-z]+/', '', $word);
                $one = (str_contains($node, ':') ? ':' : '').'(?:'.$short.'|'.$word.')';
                $pattern .= $node[0] === '[' ? "(?:$one)?" : $one;
            }
            $out[] = ['/^'.$pattern.($query ? '\?' : '').'$/i', $handler];
        }

        return $out;
    }

    /** @return list<string> a message cut at its semicolons, but not inside quotes */
    private static function units(string $line): array
    {
        return preg_split('/;(?=(?:[^"]*"[^"]*")*[^"]*$)/', $line) ?: [$line];
    }

    // --- parameters ---------------------------------------------------------------------------------------------------

    /** @param  list<string>  $a */
    protected static function none(array $a): void
    {
        if ($a !== []) {
            throw new ScpiError(-108);
        }
    }

    /**
     * A number with an optional unit, MIN, MAX or DEF.
     *
     * @param  list<string>  $a
     */
    protected static function number(array $a, float $min, float $max, float $default, string $unit = ''): float
    {
        if (! isset($a[0]) || $a[0] === '') {
            throw new ScpiError(-109);
        }
        if (count($a) > 1) {
            throw new ScpiError(-108);
        }
        $word = strtoupper($a[0]);
        if (in_array($word, ['MIN', 'MINIMUM'], true)) {
            return $min;
        }
        if (in_array($word, ['MAX', 'MAXIMUM'], true)) {
            return $max;
        }
        if (in_array($word, ['DEF', 'DEFAULT'], true)) {
            return $default;
        }
        if (! preg_match('/^([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)\s*(m|u|k)?([a-z]*)$/i', $a[0], $m)) {
            throw new ScpiError(-104, $a[0]);
        }
        $scale = ['' => 1.0, 'm' => 1e-3, 'u' => 1e-6, 'k' => 1e3][strtolower($m[2])];
        if ($m[3] !== '' && strcasecmp($m[3], $unit) !== 0) {
            throw new ScpiError(-131, $a[0]);
        }
        $value = (float) $m[1] * $scale;
        if ($value < $min || $value > $max) {
            throw new ScpiError(-222, $a[0]);
        }

        return $value;
    }

    /** @param  list<string>  $a */
    protected static function bool(array $a): bool
    {
        if (! isset($a[0])) {
            throw new ScpiError(-109);
        }

        return match (strtoupper($a[0])) {
            'ON', '1' => true,
            'OFF', '0' => false,
            default => throw new ScpiError(is_numeric($a[0]) ? -222 : -224, $a[0]),
        };
    }

    protected static function real(?float $value): string
    {
        return $value === null ? '9.90000000E+37' : sprintf('%+.8E', $value);
    }
}
