<?php

declare(strict_types=1);

namespace App\StandIn;

/** One talk with a simulated mail server, line by line (RFC 5321): what it answers, and the letter once it is whole. */
final class SmtpTalk
{
    public bool $over = false;

    private string $from = '';

    /** @var list<string> */
    private array $to = [];

    /** @var list<string>|null lines of the letter while it comes */
    private ?array $letter = null;

    /** @param  \Closure(string, list<string>, string): void  $kept */
    public function __construct(private readonly \Closure $kept) {}

    public function greets(): string
    {
        return "220 mailbox.invalid simulated\r\n";
    }

    public function hears(string $line): string
    {
        if ($this->letter !== null) {
            if ($line !== '.') {
                // A dot that begins a line was doubled on its way (RFC 5321, 4.5.2).
                $this->letter[] = str_starts_with($line, '..') ? substr($line, 1) : $line;

                return '';
            }
            ($this->kept)($this->from, $this->to, implode("\r\n", $this->letter));
            $this->reset();

            return "250 kept\r\n";
        }
        $verb = strtoupper(strtok($line, ' :') ?: '');

        return match ($verb) {
            'EHLO' => "250-mailbox.invalid\r\n250 8BITMIME\r\n",
            'HELO' => "250 mailbox.invalid\r\n",
            'MAIL' => $this->sender($line),
            'RCPT' => $this->recipient($line),
            'DATA' => $this->begins(),
            'RSET' => $this->reset() . "250 ok\r\n",
            'NOOP' => "250 ok\r\n",
            'QUIT' => $this->leaves(),
            default => "500 not known\r\n",
        };
    }

    private function sender(string $line): string
    {
        if (preg_match('/^MAIL FROM:\s*<([^>]*)>/i', $line, $m) !== 1) {
            return "501 MAIL FROM:<address>\r\n";
        }
        $this->reset();
        $this->from = $m[1];

        return "250 ok\r\n";
    }

    private function recipient(string $line): string
    {
        if ($this->from === '' || preg_match('/^RCPT TO:\s*<([^>]+)>/i', $line, $m) !== 1) {
            return $this->from === '' ? "503 MAIL first\r\n" : "501 RCPT TO:<address>\r\n";
        }
        // An address that this stand-in does not know, as a real server has them.
        if (str_starts_with($m[1], 'nobody@')) {
            return "550 no such mailbox\r\n";
        }
        $this->to[] = $m[1];

        return "250 ok\r\n";
    }

    private function begins(): string
    {
        if ($this->to === []) {
            return "503 RCPT first\r\n";
        }
        $this->letter = [];

        return "354 end with a dot\r\n";
    }

    private function leaves(): string
    {
        $this->over = true;

        return "221 bye\r\n";
    }

    private function reset(): string
    {
        [$this->from, $this->to, $this->letter] = ['', [], null];

        return '';
    }
}
