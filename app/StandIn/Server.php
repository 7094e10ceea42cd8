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

    public static function run(int $port): void
    {
        $bench = new VirtualBench(fn (): float => hrtime(true) / 1e9);
        $supply = new SupplyDevice($bench);
        $devices = ['meter' => new MeterDevice($bench), 'supply' => $supply, 'load' => new LoadDevice($bench), 'board' => new BoardDevice($bench), 'hand' => new HandPanel($bench)];
        foreach (self::DEVICES as $i => $name) {
            $server = new SocketServer('127.0.0.1:'.($port + $i));
            $server->on('connection', function (ConnectionInterface $c) use ($devices, $name, $bench): void {
                self::serve($c, fn (string $line): ?string => $devices[$name]->message($line), fn (): bool => in_array($name, $bench->dead, true));
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
    private static function serve(ConnectionInterface $c, \Closure $answer, \Closure $dead): void
    {
        $buffer = '';
        $c->on('data', function (string $data) use (&$buffer, $c, $answer, $dead): void {
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
                $line = rtrim(substr($buffer, 0, $end), "\r");
                $buffer = substr($buffer, $end + 1);
                $said = $answer($line);
                if ($said !== null) {
                    $c->write($said."\n");
                }
            }
        });
        $c->on('error', fn () => $c->close());
    }
}
