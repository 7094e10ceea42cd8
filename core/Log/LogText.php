<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

/** Bytes of a log as text: two-byte text with or without its mark, the eight-bit text of old desktops, lines that end in CR alone. */
final class LogText
{
    /** Two-byte text by the mark that it begins with. */
    private const MARKS = ["\xFF\xFE" => 'UTF-16LE', "\xFE\xFF" => 'UTF-16BE'];

    private const LOOKS_AT = 2048;

    private const MOSTLY = 0.7;

    private const HARDLY = 0.1;

    private const UTF8 = 'UTF-8';

    private const OLD = 'Windows-1252';

    /** How a file is written, by its first bytes. */
    public static function encoding(string $head): string
    {
        $marked = self::MARKS[substr($head, 0, 2)] ?? null;
        if ($marked !== null) {
            return $marked;
        }
        $look = substr($head, 0, self::LOOKS_AT);
        $even = $odd = 0;
        for ($k = 0, $n = strlen($look); $k < $n; $k++) {
            if ($look[$k] === "\0") {
                $k % 2 === 0 ? $even++ : $odd++;
            }
        }
        // Digits in two bytes have an empty one each; a file of anything else has no such rhythm.
        $half = intdiv(strlen($look), 2);
        if ($half > 0 && max($even, $odd) > self::MOSTLY * $half && min($even, $odd) < self::HARDLY * $half) {
            return $odd > $even ? 'UTF-16LE' : 'UTF-16BE';
        }

        // The last letter may be cut.
        return mb_check_encoding(mb_strcut($head, 0, max(0, strlen($head) - 4), self::UTF8), self::UTF8) ? self::UTF8 : self::OLD;
    }

    public static function bytesALetter(string $head): int
    {
        return str_starts_with(self::encoding($head), 'UTF-16') ? 2 : 1;
    }

    /** The beginning of a file, or a piece of it, as UTF-8 with lines that end in LF. */
    public static function decoded(string $bytes, string $encoding): string
    {
        $text = $encoding === self::UTF8 ? $bytes : (string) mb_convert_encoding($bytes, self::UTF8, $encoding);
        $text = (string) preg_replace('/^\xEF\xBB\xBF/', '', $text);

        return self::endsInCr($text) ? strtr($text, "\r", "\n") : $text;
    }

    private static function endsInCr(string $text): bool
    {
        return str_contains($text, "\r") && !str_contains($text, "\n");
    }

    /**
     * Has a stream give UTF-8 with lines that end in LF.
     *
     * @param  resource  $stream  at its beginning
     * @return list<resource> the filters that do it
     */
    public static function prepare($stream): array
    {
        $filters = [];
        $head = (string) fread($stream, 2 * self::LOOKS_AT);
        $encoding = self::encoding($head);
        $marked = isset(self::MARKS[substr($head, 0, 2)]) ? 2 : (str_starts_with($head, "\xEF\xBB\xBF") ? 3 : 0);
        fseek($stream, $marked);
        if ($encoding !== self::UTF8) {
            $filters[] = stream_filter_append($stream, "convert.iconv.$encoding/UTF-8", STREAM_FILTER_READ);
        }
        if (self::endsInCr(self::decoded($head, $encoding)) || substr_count($head, "\r") > 1 + substr_count($head, "\n")) {
            in_array('heartwood.cr', stream_get_filters(), true) || stream_filter_register('heartwood.cr', CrFilter::class);
            $filters[] = stream_filter_append($stream, 'heartwood.cr', STREAM_FILTER_READ);
        }

        return array_values(array_filter($filters, is_resource(...)));
    }

    /**
     * Every line of a file after so many, from its beginning; to be taken to its end, where the stream is as it was.
     *
     * @param  resource  $stream  seekable
     * @return \Generator<int, string>
     */
    public static function lines($stream, int $after): \Generator
    {
        rewind($stream);
        $filters = self::prepare($stream);
        for ($n = 0; ($line = fgets($stream)) !== false; $n++) {
            if ($n >= $after && trim($line) !== '') {
                yield rtrim($line, "\r\n");
            }
        }
        array_map(stream_filter_remove(...), $filters);
        rewind($stream);
    }

    /**
     * Pieces of a file, evenly from its beginning to its end, whole lines only; the whole of a small one.
     *
     * @param  resource  $stream  seekable
     * @return list<list<string>> lines by piece
     */
    public static function pieces($stream, int $count, int $bytes): array
    {
        $stat = fstat($stream);
        $size = $stat === false ? 0 : $stat['size'];
        rewind($stream);
        $encoding = self::encoding((string) fread($stream, 2 * self::LOOKS_AT));
        $out = [];
        $whole = $size <= $count * $bytes;
        $n = $whole ? 1 : $count;
        for ($k = 0; $k < $n; $k++) {
            $at = $n === 1 ? 0 : intdiv(($size - $bytes) * $k, $n - 1);
            // Two bytes stay together.
            $at -= $at % 2;
            fseek($stream, $at);
            $raw = (string) stream_get_contents($stream, $whole ? $size : $bytes);
            $lines = preg_split('/\R/', self::decoded($raw, $encoding)) ?: [];
            if ($at > 0) {
                array_shift($lines);
            }
            if ($k < $n - 1) {
                array_pop($lines);
            }
            $out[] = array_values(array_filter($lines, fn(string $l): bool => trim($l) !== ''));
        }
        rewind($stream);

        return $out;
    }
}
