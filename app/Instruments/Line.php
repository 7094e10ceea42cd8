<?php

declare(strict_types=1);

namespace App\Instruments;

/** One line-terminated TCP conversation with a timeout; a broken one is opened again once. */
final class Line
{
    /** @var resource|null */
    private $socket = null;

    public function __construct(private readonly string $host, private readonly int $port, private readonly float $timeoutS = 0.8)
    {
    }

    public function __destruct()
    {
        $this->close();
    }

    /** @throws InstrumentFault */
    public function say(string $line): void
    {
        $this->send($line);
    }

    /** @throws InstrumentFault */
    public function ask(string $line): string
    {
        try {
            $this->send($line);

            return $this->read();
        } catch (InstrumentFault $e) {
            // A conversation that was cut meanwhile is taken up once; a question is safe to repeat.
            $this->close();
            $this->send($line);

            return $this->read();
        }
    }

    public function close(): void
    {
        if (is_resource($this->socket)) {
            fclose($this->socket);
        }
        $this->socket = null;
    }

    /** @throws InstrumentFault */
    public function read(): string
    {
        $socket = $this->socket;
        $line = is_resource($socket) ? fgets($socket, 65536) : false;
        if ($line === false || ! str_ends_with($line, "\n")) {
            $this->close();
            throw new InstrumentFault("{$this->host}:{$this->port} does not answer: is it on, and on this network?");
        }

        return rtrim($line, "\r\n");
    }

    private function send(string $line): void
    {
        if (! is_resource($this->socket)) {
            $socket = @stream_socket_client("tcp://{$this->host}:{$this->port}", $n, $why, $this->timeoutS);
            if ($socket === false) {
                throw new InstrumentFault("{$this->host}:{$this->port} cannot be reached: ".($why === '' ? 'no answer' : $why).'.');
            }
            $seconds = (int) $this->timeoutS;
            stream_set_timeout($socket, $seconds, (int) (1e6 * ($this->timeoutS - $seconds)));
            $this->socket = $socket;
        }
        if (@fwrite($this->socket, $line."\n") === false) {
            $this->close();
            throw new InstrumentFault("{$this->host}:{$this->port} closed the conversation.");
        }
    }
}
