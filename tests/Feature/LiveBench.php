<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Instruments\Line;

/** The stand-ins in a process of their own, with the habits of a real instrument; gone with this object. */
final class LiveBench
{
    /** Above the ports that instances draw theirs from, below those that connections take. */
    private static int $next = 31000;

    public readonly int $port;

    /** @var resource */
    private $process;

    /** @param  list<string>  $habits */
    public function __construct(array $habits = [])
    {
        do {
            self::$next += 10;
        } while ($this->answers(self::$next));
        $this->port = self::$next;
        $process = proc_open(
            [PHP_BINARY, dirname(__DIR__, 2) . '/bin/bench.php', (string) $this->port, ...$habits],
            [['file', '/dev/null', 'r'], ['pipe', 'w'], ['file', '/dev/null', 'w']],
            $pipes,
        );
        if (!is_resource($process)) {
            throw new \RuntimeException('the bench does not start');
        }
        $this->process = $process;
        for ($n = 0; $n < 200 && !$this->isThere(); $n++) {
            usleep(20_000);
        }
    }

    public function __destruct()
    {
        proc_terminate($this->process, 9);
        proc_close($this->process);
    }

    public function meter(): int
    {
        return $this->port;
    }

    public function supply(): int
    {
        return $this->port + 1;
    }

    /** @param  array<string, mixed>  $say  @return array<string, mixed> what the hand sees */
    public function hand(array $say): array
    {
        return json_decode((new Line('127.0.0.1', $this->port + 4))->ask((string) json_encode($say)), true);
    }

    private function isThere(): bool
    {
        return $this->answers($this->port + 4);
    }

    private function answers(int $port): bool
    {
        $socket = @fsockopen('127.0.0.1', $port, $n, $why, 0.2);
        if ($socket === false) {
            return false;
        }
        fclose($socket);

        return true;
    }
}
