<?php

declare(strict_types=1);

namespace App\Instruments;

/** Talks IEEE 488.2 and SCPI 1999 to one instrument: identity, error queue, numbers with the standard's overload. */
class Scpi
{
    /** The standard's "overload" and "not a number" (SCPI 1999, 7.2.1.4 and 7.2.1.5). */
    private const OVERLOAD = 9.9e37;

    protected Line $line;

    public function __construct(private readonly string $host, private readonly int $port, float $timeoutS = 0.8)
    {
        $this->line = new Line($host, $port, $timeoutS);
    }

    /**
     * @return array{maker: string, model: string, serial: string, firmware: string, simulated: bool}
     *
     * @throws InstrumentFault
     */
    public function identity(): array
    {
        $parts = array_map(trim(...), explode(',', $this->line->ask('*IDN?')));
        if (count($parts) < 2 || $parts[0] === '') {
            throw new InstrumentFault('It answers, but not as the standard says (*IDN? gave "'.mb_substr(implode(',', $parts), 0, 60).'").');
        }

        return ['maker' => $parts[0], 'model' => $parts[1], 'serial' => $parts[2] ?? '', 'firmware' => $parts[3] ?? '', 'simulated' => str_starts_with($parts[1], 'Stand-in')];
    }

    /** @return list<string> the error queue, emptied */
    public function errors(): array
    {
        $out = [];
        for ($n = 0; $n < 30; $n++) {
            $e = $this->line->ask('SYST:ERR?');
            if (! preg_match('/^[+]?(-?\d+)\s*,/', $e, $m) || (int) $m[1] === 0) {
                break;
            }
            $out[] = $e;
        }

        return $out;
    }

    /** @throws InstrumentFault the command was refused by the instrument */
    public function command(string $command): void
    {
        $this->line->say($command);
        $errors = $this->errors();
        if ($errors !== []) {
            throw new InstrumentFault("It refused '$command': {$errors[0]}");
        }
    }

    /** @return float|null null for the standard's overload */
    public function number(string $question): ?float
    {
        $answer = $this->line->ask($question);
        $first = explode(',', $answer)[0];
        if (! is_numeric(trim($first))) {
            throw new InstrumentFault("'$question' was answered with '".mb_substr($answer, 0, 40)."', a number was expected.");
        }
        $value = (float) $first;

        return abs($value) >= self::OVERLOAD * 0.99 || is_nan($value) ? null : $value;
    }

    /**
     * What kind of instrument it is, by what it can do and not by its name.
     *
     * @return 'meter'|'supply'|'load'|'unknown'
     */
    public function kind(): string
    {
        $this->line->say('*CLS');
        foreach (['supply' => 'OUTP?', 'load' => 'INP?', 'meter' => 'CONF?'] as $kind => $question) {
            try {
                // A line of its own: an instrument that does not know the question stays silent.
                if ((new Line($this->host, $this->port, 0.4))->ask($question) !== '') {
                    return $kind;
                }
            } catch (InstrumentFault) {
                continue;
            }
        }

        return 'unknown';
    }
}
