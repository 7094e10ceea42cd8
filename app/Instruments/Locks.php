<?php

declare(strict_types=1);

namespace App\Instruments;

/** Locks of instruments on this machine, whatever instance, workshop or process wants them; gone with the process. */
final class Locks
{
    /** @var array<string, resource> */
    private array $held = [];

    /** @param  list<string>  $keys */
    public function take(array $keys): bool
    {
        foreach ($keys as $key) {
            if (isset($this->held[$key])) {
                continue;
            }
            $file = @fopen(self::folder() . '/' . sha1($key) . '.lock', 'c');
            if ($file === false || !flock($file, LOCK_EX | LOCK_NB)) {
                $this->release();

                return false;
            }
            $this->held[$key] = $file;
        }

        return true;
    }

    public function release(): void
    {
        foreach ($this->held as $file) {
            fclose($file);
        }
        $this->held = [];
    }

    private static function folder(): string
    {
        $folder = sys_get_temp_dir() . '/heartwood-bench';
        if (!is_dir($folder)) {
            @mkdir($folder, 01777);
            @chmod($folder, 01777);
        }

        return $folder;
    }
}
