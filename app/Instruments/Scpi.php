<?php

declare(strict_types=1);

namespace App\Instruments;

/** Talks IEEE 488.2 and SCPI 1999 to one instrument, or to one channel of it: identity, error queue, numbers. */
class Scpi
{
    protected Line $line;

    /**
     * @param  int|null  $channel  of several; null for an instrument with one
     * @param  string  $style  how it is told which: 'inst' (INST:NSEL 1), 'name' (... CH1), 'list' (... (@1))
     */
    public function __construct(
        private readonly string $host,
        private readonly int $port,
        private readonly float $timeoutS = 0.8,
        protected readonly ?int $channel = null,
        protected readonly string $style = '',
    ) {
        $this->line = Lines::to($host, $port, $timeoutS);
    }

    /**
     * @return array{maker: string, model: string, serial: string, firmware: string, simulated: bool}
     *
     * @throws InstrumentFault
     */
    public function identity(): array
    {
        $parts = array_map(trim(...), explode(',', $this->line->ask('*IDN?')));
        // What a service of another kind says is not passed on to a screen.
        if (count($parts) < 2 || count($parts) > 8 || $parts[0] === '' || max(array_map('strlen', $parts)) > 72) {
            throw new InstrumentFault('It answers, but not as the standard says an instrument answers *IDN?: is it the right port?');
        }
        $serial = $parts[2] ?? '';

        return [
            'maker' => $parts[0],
            'model' => $parts[1],
            'serial' => in_array($serial, ['0', '00000000', 'N/A', '-'], true) ? '' : $serial,
            'firmware' => $parts[3] ?? '',
            'simulated' => str_starts_with($parts[1], 'Stand-in'),
        ];
    }

    /** @return list<string> the error queue, emptied; each question is put once */
    public function errors(): array
    {
        $out = [];
        for ($n = 0; $n < 30; $n++) {
            $e = Answer::error($this->line->ask('SYST:ERR?'));
            if ($e === null) {
                break;
            }
            $out[] = $e;
        }

        return $out;
    }

    /** @throws InstrumentFault the command was refused by the instrument */
    public function command(string $command): void
    {
        $this->select();
        $this->line->say($this->addressed($command));
        $errors = $this->errors();
        if ($errors !== []) {
            throw new InstrumentFault("It refused '$command': {$errors[0]}");
        }
    }

    /** @return float|null null where it shows overload or says that there is none */
    public function number(string $question): ?float
    {
        $value = $this->reading($question);

        return $value === Answer::OVERLOAD ? null : $value;
    }

    /** @return float|null `Answer::OVERLOAD` where it shows overload */
    public function reading(string $question): ?float
    {
        $this->select();

        return Answer::number($question, $this->line->ask($this->addressed($question)));
    }

    public function yes(string $question): bool
    {
        $this->select();

        return Answer::yes($question, $this->line->ask($this->addressed($question)));
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
                // An instrument that does not know the question stays silent; a late word must not be taken for another answer.
                $line = new Line($this->host, $this->port, min(0.4, $this->timeoutS));
                $this->line->close();
                if ($this->channel !== null && $this->style === 'inst') {
                    $line->say("INST:NSEL {$this->channel}");
                }
                if ($line->ask($this->addressed($question)) !== '') {
                    return $kind;
                }
            } catch (InstrumentFault) {
                continue;
            } finally {
                if (isset($line)) {
                    $line->close();
                }
            }
        }

        return 'unknown';
    }

    /**
     * How an instrument of several channels wants to be told which.
     *
     * @return 'inst'|'name'|'list'|null null when it understands none of the ways
     */
    public static function styleOf(string $host, int $port, int $channel, float $timeoutS): ?string
    {
        foreach (['inst', 'name', 'list'] as $style) {
            try {
                $scpi = new self($host, $port, $timeoutS, $channel, $style);
                $scpi->line->say('*CLS');
                if ($style === 'inst') {
                    $scpi->line->say("INST:NSEL $channel");
                    if ($scpi->errors() !== []) {
                        continue;
                    }

                    return $style;
                }
                $value = $scpi->number('MEAS:VOLT?');
                if ($value !== null && $scpi->errors() === []) {
                    return $style;
                }
            } catch (InstrumentFault) {
                continue;
            }
        }

        return null;
    }

    /** Turns to the channel that is meant; somebody may have turned it to another since. */
    private function select(): void
    {
        if ($this->channel !== null && $this->style === 'inst') {
            $this->line->say("INST:NSEL {$this->channel}");
        }
    }

    private function addressed(string $command): string
    {
        if (
            $this->channel === null ||
            $this->style === 'inst' ||
            $this->style === '' ||
            str_starts_with($command, '*') ||
            str_starts_with($command, 'SYST')
        ) {
            return $command;
        }
        $with = $this->style === 'name' ? "CH{$this->channel}" : "(@{$this->channel})";
        [$header, $rest] = array_pad(explode(' ', $command, 2), 2, '');

        // Names stand before the value, lists behind it.
        return $rest === '' ? "$header $with" : ($this->style === 'name' ? "$header $with,$rest" : "$header $rest,$with");
    }
}
