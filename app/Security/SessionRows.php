<?php

declare(strict_types=1);

namespace App\Security;

use Illuminate\Session\DatabaseSessionHandler;

/**
 * Sessions in the database, written only when they say something new: a screen that watches a run asks all the while, and
 * each of its questions would wait for the disk.
 */
final class SessionRows extends DatabaseSessionHandler
{
    /** A session that says nothing new is written so often all the same, so that it does not grow old while it is used, seconds. */
    public const AGAIN_S = 60;

    /** @var array<string, array{data: string, at: int}> as they were read */
    private array $read = [];

    public function read($sessionId): string
    {
        $row = (object) $this->getQuery()->find($sessionId);
        $this->exists = isset($row->payload);
        if (!$this->exists || $this->expired($row)) {
            return '';
        }
        $data = (string) base64_decode($row->payload, true);
        $this->read[$sessionId] = ['data' => $data, 'at' => (int) $row->last_activity];

        return $data;
    }

    public function write($sessionId, $data): bool
    {
        $was = $this->read[$sessionId] ?? null;

        return $was !== null && $was['data'] === $data && $this->currentTime() - $was['at'] < self::AGAIN_S
            ? true
            : parent::write($sessionId, $data);
    }

    public function destroy($sessionId): bool
    {
        unset($this->read[$sessionId]);

        return parent::destroy($sessionId);
    }
}
