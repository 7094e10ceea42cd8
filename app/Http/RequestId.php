<?php

declare(strict_types=1);

namespace App\Http;

/** The name of one request: in its answer, in the log and, where something went wrong, on the screen. */
final class RequestId
{
    /** Letters of a name: enough to be found within a log file. */
    private const BYTES = 6;

    public static function current(): string
    {
        $request = request();
        $id = $request->attributes->get('request-id');
        if (!is_string($id)) {
            // The server in front has named it already, where there is one.
            $given = (string) $request->server->get('HEARTWOOD_REQUEST', '');
            $id =
                preg_match('/^[0-9a-f]{12,64}$/D', $given) === 1 ? substr($given, 0, 2 * self::BYTES) : bin2hex(random_bytes(self::BYTES));
            $request->attributes->set('request-id', $id);
        }

        return $id;
    }
}
