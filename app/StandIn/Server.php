<?php

declare(strict_types=1);

namespace App\StandIn;

use React\EventLoop\Loop;
use React\Socket\ConnectionInterface;
use React\Socket\SocketServer;

/** All stand-ins in one process on loopback: meter, supply, load, board and hand on five ports in a row. */
final class Server
{
    public const DEVICES = ['meter', 'supply', 'load', 'board', 'hand'];

    /** @param  list<string>  $habits  see `Habits` */
    public static function run(int $port, array $habits = []): void
    {
        $bench = new VirtualBench(fn(): float => hrtime(true) / 1e9);
        $supply = new SupplyDevice($bench, "SS-$port");
        $devices = [
            'meter' => new MeterDevice($bench, "SM-$port"),
            'supply' => $supply,
            'load' => new LoadDevice($bench, "SL-$port"),
            'board' => new BoardDevice($bench),
            'hand' => new HandPanel($bench),
        ];
        foreach (self::DEVICES as $i => $name) {
            $server = new SocketServer('127.0.0.1:' . ($port + $i));
            $own = new Habits($name === 'hand' ? [] : $habits);
            $server->on('connection', function (ConnectionInterface $c) use ($devices, $name, $bench, $own): void {
                self::serve(
                    $c,
                    fn(string $line): ?string => $devices[$name]->message($line),
                    fn(): bool => in_array($name, $bench->dead, true),
                    $own,
                );
            });
            printf("%-7s 127.0.0.1:%d\n", $name, $port + $i);
        }
        Loop::addPeriodicTimer(0.05, function () use ($bench, $supply): void {
            $bench->tick();
            $supply->tick();
        });
        Loop::run();
    }

    /**
     * @param  \Closure(string): ?string  $answer
     * @param  \Closure(): bool  $dead
     */
    private static function serve(ConnectionInterface $c, \Closure $answer, \Closure $dead, Habits $habits): void
    {
        if (!$habits->greets($c)) {
            return;
        }
        $buffer = '';
        $hear = function (string $line) use ($c, $answer, $habits): void {
            $habits->answer($c, rtrim($line, "\r"), $answer);
        };
        $c->on('data', function (string $data) use (&$buffer, $c, $hear, $dead): void {
            if ($dead()) {
                $c->close();

                return;
            }
            $buffer .= $data;
            if (strlen($buffer) > 65536) {
                $c->close();

                return;
            }
            while (($end = strpos($buffer, "\n")) !== false) {
                $line = substr($buffer, 0, $end);
                $buffer = substr($buffer, $end + 1);
                $hear($line);
            }
        });
        // A client that says one thing and shuts its side is answered all the same, with or without the last line end.
        $c->on('end', function () use (&$buffer, $hear, $dead): void {
            if ($buffer !== '' && !$dead()) {
                $hear($buffer);
                $buffer = '';
            }
        });
        $c->on('close', fn() => $habits->left($c));
        $c->on('error', fn() => $c->close());
    }
}
