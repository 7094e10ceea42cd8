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

    private const QUEUE_BIT = 4;

    private const EVENT_BIT = 32;

    private const MASTER_BIT = 64;

    /** Common commands that are known; the optional ones (*SAV, *RCL, *TRG ...) are not. */
    private const COMMON = ['*IDN?', '*RST', '*CLS', '*ESR?', '*ESE?', '*SRE?', '*STB?', '*OPC', '*OPC?', '*TST?', '*WAI'];

    private int $event = self::POWER_ON;

    private int $eventEnable = 0;

    private int $serviceEnable = 0;

    /** @var array<string, int> enable masks of the standard's two status registers */
    private array $statusEnable = ['OPERation' => 0, 'QUEStionable' => 0];

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
        $arguments = $rest === '' ? [] : array_map(fn(?string $a): string => trim((string) $a), str_getcsv($rest, ',', '"', ''));
        foreach ($arguments as $argument) {
            if (preg_match('/^[-+.\d]\S*[ \t]+[-+.\d]/', $argument) === 1) {
                throw new ScpiError(-103, $argument);
            }
        }
        if ($header[0] === '*') {
            return $this->common(strtoupper($header), $arguments);
        }
        $nodes = explode(':', ltrim($header, ':'));
        if (max(array_map(fn(string $n): int => strlen(rtrim($n, '?')), $nodes)) > self::MNEMONIC) {
            throw new ScpiError(-112, $header);
        }
        $full = $header[0] === ':' ? $nodes : [...$path, ...$nodes];
        // SCPI 1999, 6.2.4: what follows a semicolon stands below the last header's own path; a colon begins at the root.
        $handler = $this->find(implode(':', $full));
        if ($handler === null) {
            throw new ScpiError(-113, $header);
        }
        $path = array_slice($full, 0, -1);

        return $handler($arguments);
    }

    /** @param  array<int, string>  $a */
    private function common(string $header, array $a): ?string
    {
        $number = fn(): int => isset($a[0])
            ? (is_numeric($a[0])
                ? ((int) $a[0] >= 0 && (int) $a[0] < 256
                    ? (int) $a[0]
                    : throw new ScpiError(-222))
                : throw new ScpiError(-104))
            : throw new ScpiError(-109);
        if (in_array($header, ['*ESE', '*SRE'], true)) {
            $header === '*ESE' ? ($this->eventEnable = $number()) : ($this->serviceEnable = $number());

            return null;
        }
        if ($a !== [] && in_array($header, self::COMMON, true)) {
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
            '*STB?' => (string) $this->statusByte(),
            '*OPC' => $this->done(fn(): int => ($this->event |= self::OPC)),
            '*OPC?' => '1',
            '*TST?' => '0',
            '*WAI' => null,
            default => throw new ScpiError(-113, $header),
        };
    }

    /** IEEE 488.2, 11.2.2: bit 6 of *STB? is the master summary of what *SRE enables. */
    private function statusByte(): int
    {
        $byte = ($this->errors !== [] ? self::QUEUE_BIT : 0) | (($this->event & $this->eventEnable) !== 0 ? self::EVENT_BIT : 0);

        return $byte | (($byte & $this->serviceEnable & ~self::MASTER_BIT) !== 0 ? self::MASTER_BIT : 0);
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
        return fn(array $a): string => $a === [] ? $answer() : throw new ScpiError(-108, implode(',', $a));
    }

    /** @return list<array{string, callable}> */
    private function compile(): array
    {
        $out = [];
        $system = [
            'SYSTem:ERRor[:NEXT]?' => self::bare(fn(): string => ScpiError::line(...array_shift($this->errors) ?? [0, ''])),
            'SYSTem:ERRor:COUNt?' => self::bare(fn(): string => (string) count($this->errors)),
            'SYSTem:VERSion?' => self::bare(fn(): string => '1999.0'),
            'STATus:PRESet' => fn(array $a): null => $a === []
                ? $this->done(fn(): array => ($this->statusEnable = ['OPERation' => 0, 'QUEStionable' => 0]))
                : throw new ScpiError(-108),
        ];
        // The two registers that the standard wants everywhere: nothing is ever pending in these devices.
        foreach (array_keys($this->statusEnable) as $register) {
            $system += [
                "STATus:{$register}[:EVENt]?" => self::bare(fn(): string => '0'),
                "STATus:$register:CONDition?" => self::bare(fn(): string => '0'),
                "STATus:$register:ENABle?" => self::bare(fn(): string => (string) $this->statusEnable[$register]),
                "STATus:$register:ENABle" => fn(array $a): null => $this->done(
                    fn(): int => ($this->statusEnable[$register] = (int) self::number($a, 0, 32767, 0)),
                ),
            ];
        }
        foreach ($system + $this->commands() as $header => $handler) {
            $query = str_ends_with($header, '?');
            $pattern = '';
            preg_match_all('/\[:?\w+:?\]|:?\w+/', $header, $nodes);
            foreach ($nodes[0] as $node) {
                $word = trim($node, '[]:');
                $short = (string) preg_replace('/[a-z]+/', '', $word);
                $one = (str_contains($node, ':') ? ':' : '') . '(?:' . $short . '|' . $word . ')';
                $pattern .= $node[0] === '[' ? "(?:$one)?" : $one;
            }
            $out[] = ['/^' . $pattern . ($query ? '\?' : '') . '$/i', $handler];
        }

        return $out;
    }

    /** @return list<string> a message cut at its semicolons, but not inside quotes */
    private static function units(string $line): array
    {
        return preg_split('/;(?=(?:[^"]*"[^"]*")*[^"]*$)/', $line) ?: [$line];
    }

    // --- parameters ---------------------------------------------------------------------------------------------------

    /** @param  array<int, string>  $a */
    protected static function none(array $a): void
    {
        if ($a !== []) {
            throw new ScpiError(-108);
        }
    }

    /**
     * A number with an optional unit, MIN, MAX or DEF.
     *
     * @param  array<int, string>  $a
     */
    protected static function number(array $a, float $min, float $max, float $default, string $unit = ''): float
    {
        if (!isset($a[0]) || $a[0] === '') {
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
        if (!preg_match('/^([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)\s*(m|u|k)?([a-z]*)$/i', $a[0], $m)) {
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

    /**
     * The answer to a query of a setting: as it is, or its least, greatest or default value (SCPI 1999, 7.2.1.2).
     *
     * @param  array<int, string>  $a
     */
    protected static function setting(array $a, float $is, float $min, float $max, float $default): string
    {
        if (count($a) > 1) {
            throw new ScpiError(-108);
        }

        return self::real(
            match (strtoupper($a[0] ?? '')) {
                '' => $is,
                'MIN', 'MINIMUM' => $min,
                'MAX', 'MAXIMUM' => $max,
                'DEF', 'DEFAULT' => $default,
                default => throw new ScpiError(-224, $a[0]),
            },
        );
    }

    /** @param  array<int, string>  $a */
    protected static function bool(array $a): bool
    {
        if (!isset($a[0])) {
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
