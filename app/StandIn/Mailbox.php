<?php

declare(strict_types=1);

namespace App\StandIn;

use React\EventLoop\Loop;
use React\Socket\ConnectionInterface;
use React\Socket\SocketServer;

/** A simulated mail server on loopback: takes what is handed in by SMTP (RFC 5321) and lays it in a folder; nothing goes anywhere. */
final class Mailbox
{
    private const MOST_BYTES = 200_000;

    /** Letters that are kept: the newest. */
    private const KEPT = 200;

    public static function run(int $port, string $folder): void
    {
        @mkdir($folder, 0770, true);
        $server = new SocketServer("127.0.0.1:$port");
        $server->on('connection', fn(ConnectionInterface $c) => self::serve($c, $folder));
        printf("mailbox 127.0.0.1:%d\n", $port);
        Loop::run();
    }

    private static function serve(ConnectionInterface $c, string $folder): void
    {
        $talk = new SmtpTalk(fn(string $from, array $to, string $letter) => self::keep($folder, $from, $to, $letter));
        $c->write($talk->greets());
        $buffer = '';
        $c->on('data', function (string $data) use (&$buffer, $c, $talk): void {
            $buffer .= $data;
            if (strlen($buffer) > self::MOST_BYTES) {
                $c->end("552 too much\r\n");

                return;
            }
            while (($end = strpos($buffer, "\n")) !== false) {
                $answer = $talk->hears(rtrim(substr($buffer, 0, $end), "\r"));
                $buffer = substr($buffer, $end + 1);
                if ($answer !== '') {
                    $c->write($answer);
                }
                if ($talk->over) {
                    $c->end();
                }
            }
        });
        $c->on('error', fn() => $c->close());
    }

    /** @param  list<string>  $to */
    private static function keep(string $folder, string $from, array $to, string $letter): void
    {
        $name = sprintf('%s/%s-%s.json', $folder, gmdate('Ymd\THis'), bin2hex(random_bytes(4)));
        $letter = ['at' => gmdate('Y-m-d\TH:i:s\Z'), 'from' => $from, 'to' => $to, 'letter' => $letter];
        file_put_contents("$name.new", json_encode($letter, JSON_THROW_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE));
        rename("$name.new", $name);
        $all = glob("$folder/*.json") ?: [];
        sort($all);
        foreach (array_slice($all, 0, -self::KEPT) as $old) {
            @unlink($old);
        }
    }

    /** @return list<array{at: string, from: string, to: list<string>, subject: string, body: string}> newest first */
    public static function letters(string $folder): array
    {
        $all = glob("$folder/*.json") ?: [];
        rsort($all);
        $out = [];
        foreach ($all as $file) {
            /** @var array{at: string, from: string, to: list<string>, letter: string} $kept */
            $kept = json_decode((string) file_get_contents($file), true);
            [$head, $body] = explode("\n\n", str_replace("\r\n", "\n", $kept['letter']), 2) + [1 => ''];
            $head = (string) preg_replace('/\n[ \t]+/', ' ', $head);
            $field = fn(string $name): string => preg_match("/^$name:\\s*(.*)$/mi", $head, $m) === 1 ? trim($m[1]) : '';
            $out[] = [
                'at' => $kept['at'],
                'from' => $kept['from'],
                'to' => $kept['to'],
                'subject' => (string) mb_decode_mimeheader($field('Subject')),
                'body' => strtolower($field('Content-Transfer-Encoding')) === 'quoted-printable' ? quoted_printable_decode($body) : $body,
            ];
        }

        return $out;
    }
}
