<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

/** A log from its bytes to its figures: how it is written is guessed from its head and looked up in all of it, then it is read. */
final class LogReader
{
    private const HEAD = 65536;

    /**
     * How a log is to be read.
     *
     * @param  resource  $stream  seekable; at its beginning again afterwards
     * @param  array<string, mixed>  $said  what a person says of the mapping, in the fields of Mapping::toArray()
     *
     * @throws LogProblem no columns that could be time, voltage and current
     */
    public static function mapping($stream, LogTerms $terms, array $said = []): Mapping
    {
        rewind($stream);
        $map = Mapping::guess((string) fread($stream, self::HEAD))->with($said);
        rewind($stream);

        return Survey::of($stream, $map, $terms, $said);
    }

    /**
     * @param  resource  $stream  seekable
     * @param  (callable(list<float>, list<float>, list<float>): void)|null  $sink  seconds, volts, amps of up to 4096 rows
     *
     * @throws LogProblem it cannot be read, or something about it only a person can tell
     */
    public static function figures($stream, Mapping $map, LogTerms $terms, ?callable $sink = null): LogFigures
    {
        rewind($stream);

        return LogAnalysis::run($stream, $map, $terms, $sink);
    }
}
