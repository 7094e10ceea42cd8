<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

/** Lines that end in CR alone, as lines that end in LF. */
final class CrFilter extends \php_user_filter
{
    /**
     * @param  resource  $in
     * @param  resource  $out
     * @param  int  $consumed
     */
    public function filter($in, $out, &$consumed, bool $closing): int
    {
        while (($bucket = stream_bucket_make_writeable($in)) !== null) {
            $data = is_string($bucket->data) ? $bucket->data : '';
            $consumed += strlen($data);
            $bucket->data = strtr($data, "\r", "\n");
            stream_bucket_append($out, $bucket);
        }

        return PSFS_PASS_ON;
    }
}
