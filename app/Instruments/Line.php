<?php

declare(strict_types=1);

namespace App\Instruments;

/**
 * One conversation of lines over TCP. Every answer has one deadline, whatever drips in; what arrived unasked is thrown
 * away before a question is put; after a time-out the conversation is begun anew, so that a late answer can never be
 * taken for the next one. A question is repeated only where nothing of it can have been heard, or it empties nothing.
 */
final class Line
{
    /** Longest answer that any instrument gives, bytes. */
    private const MOST = 65536;

    /** Questions whose answer takes something away: never put twice (IEEE 488.2, 11.5; SCPI 1999, 21.8). */
    private const EMPTIES = '/ERR|\*ESR\?|\*STB\?|FETC|EVEN|:NEXT|\*TST|READ\?|R\?$/i';

    /** Seconds in which a banner or what is left of an older conversation comes in after connecting. */
    private const BANNER_S = 0.06;

    /** @var resource|null */
    private $socket = null;

    private string $buffer = '';

    /** @var list<string> what was sent since the last answer: an instrument that echoes sends it back */
    private array $sent = [];

    private bool $greeted = false;

    public function __construct(public readonly string $host, public readonly int $port, private readonly float $timeoutS = 0.8) {}

    public function __destruct()
    {
        $this->close();
    }

    /** @throws InstrumentFault */
    public function say(string $line): void
    {
        $this->send($line);
    }

    /**
     * @throws InstrumentFault no answer in time, or one that cannot be read
     */
    public function ask(string $line): string
    {
        $this->send($line);
        try {
            return $this->read();
        } catch (LineClosed $e) {
            // The instrument had hung up meanwhile and heard nothing. What empties a queue is not asked again all the same.
            if (preg_match(self::EMPTIES, $line) === 1) {
                throw $e;
            }
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
        $this->buffer = '';
        $this->sent = [];
    }

    /**
     * The next line that is an answer: no echo, no bare prompt.
     *
     * @throws InstrumentFault
     */
    public function read(): string
    {
        $deadline = microtime(true) + $this->timeoutS;
        while (true) {
            $line = $this->line($deadline);
            $line = trim((string) preg_replace('/^(?:[A-Za-z0-9_-]{0,12}>\s*)+/', '', $line));
            if ($line === '' || in_array($line, $this->sent, true)) {
                $this->sent = array_values(array_diff($this->sent, [$line]));

                continue;
            }
            if (!mb_check_encoding($line, 'UTF-8') || preg_match('/[\x00-\x08\x0b\x0c\x0e-\x1f\x7f]/', $line) === 1) {
                $this->close();
                throw new InstrumentFault("{$this->name()} answers with what is no text: is it the right port, and the right baud rate?");
            }
            $this->sent = [];

            return $line;
        }
    }

    private function line(float $deadline): string
    {
        while (true) {
            $cut = strcspn($this->buffer, "\r\n");
            if ($cut < strlen($this->buffer)) {
                $line = substr($this->buffer, 0, $cut);
                $this->buffer = substr($this->buffer, $cut + 1);

                return $line;
            }
            if (strlen($this->buffer) > self::MOST) {
                $this->close();
                throw new InstrumentFault("{$this->name()} answers without end: is it an instrument?");
            }
            if (!$this->pull($deadline - microtime(true))) {
                // What comes later would be taken for the answer to something else: this conversation is over.
                $this->close();
                throw new InstrumentFault("{$this->name()} does not answer: is it on, and on this network?");
            }
        }
    }

    /** @return bool whether anything came in time */
    private function pull(float $seconds): bool
    {
        if (!is_resource($this->socket) || $seconds <= 0) {
            return false;
        }
        $read = [$this->socket];
        $none = null;
        if ((int) @stream_select($read, $none, $none, (int) $seconds, (int) (1e6 * ($seconds - (int) $seconds))) === 0) {
            return false;
        }
        $more = (string) fread($this->socket, 8192);
        if ($more === '' && feof($this->socket)) {
            $this->close();
            throw new LineClosed("{$this->name()} closed the conversation.");
        }
        $this->buffer .= $more;

        return true;
    }

    private function send(string $line): void
    {
        $this->drain();
        if (!is_resource($this->socket)) {
            $this->open();
        }
        $this->buffer = '';
        $data = $line . "\n";
        for ($done = 0, $until = microtime(true) + $this->timeoutS; $done < strlen($data); ) {
            $n = is_resource($this->socket) ? @fwrite($this->socket, substr($data, $done)) : false;
            if ($n === false || microtime(true) > $until) {
                $this->close();
                throw new LineClosed("{$this->name()} closed the conversation.");
            }
            $done += $n;
            $n === 0 && usleep(2000);
        }
        $this->sent[] = trim($line);
        $this->sent = array_slice($this->sent, -12);
    }

    /** Throws away what nobody asked for, and finds out whether the other side is still there. */
    private function drain(): void
    {
        $this->buffer = '';
        try {
            for ($n = 0; $n < 64 && is_resource($this->socket) && $this->pull(0.0005); $n++) {
                $this->buffer = '';
            }
        } catch (LineClosed) {
            $this->buffer = '';
        }
    }

    private function open(): void
    {
        $socket = @stream_socket_client("tcp://{$this->host}:{$this->port}", $n, $why, min(2.0, $this->timeoutS));
        if ($socket === false) {
            throw new InstrumentFault("{$this->name()} cannot be reached: " . ($why === '' ? 'no answer' : $why) . '.');
        }
        stream_set_blocking($socket, false);
        $this->socket = $socket;
        $this->sent = [];
        try {
            // Only the first time and after trouble does anything come by itself.
            $this->pull($this->greeted ? 0.005 : self::BANNER_S) && $this->drain();
        } catch (LineClosed $e) {
            throw new InstrumentFault("{$this->name()} hangs up at once: another client may have it.", 0, $e);
        }
        $this->greeted = true;
        if (!is_resource($this->socket)) {
            throw new InstrumentFault("{$this->name()} hangs up at once: another client may have it.");
        }
    }

    private function name(): string
    {
        return "{$this->host}:{$this->port}";
    }
}
