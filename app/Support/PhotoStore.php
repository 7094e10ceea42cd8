<?php

declare(strict_types=1);

namespace App\Support;

use App\Actions\Refused;
use Illuminate\Support\Facades\DB;
use Intervention\Image\Drivers\Gd\Driver;
use Intervention\Image\Exceptions\RuntimeException as Undecodable;
use Intervention\Image\ImageManager;

/**
 * Pictures on disk, each under the SHA-256 of what is kept: drawn anew, so that nothing that came with it (places, names, scripts) is
 * left; upright; no larger than a screen needs; and a small one for lists. Outside the web root: handed out by the application alone.
 */
final class PhotoStore
{
    /** Bytes of a picture as it comes, at most. */
    public const MOST_BYTES = 25_000_000;

    /** Dots of a picture as it comes, at most: decoded, each takes four bytes of memory. */
    public const MOST_DOTS = 40_000_000;

    /** Dots along the longer side of what is kept. */
    public const LONG_SIDE = 2560;

    /** Dots along the longer side of the small one. */
    public const SMALL_SIDE = 360;

    /** Of a hundred: of the picture, and of the small one. */
    private const QUALITY = 84;

    private const SMALL_QUALITY = 70;

    private const KINDS = [IMAGETYPE_JPEG, IMAGETYPE_PNG, IMAGETYPE_WEBP];

    public static function folder(): string
    {
        return dirname(storage_path()) . '/photos';
    }

    /** Where a picture lies, or its small one. */
    public static function path(string $sha, bool $small): string
    {
        return sprintf('%s/%s/%s%s.jpg', self::folder(), substr($sha, 0, 2), $sha, $small ? '.small' : '');
    }

    /**
     * @param  string  $path  of the file as it came
     * @return array{sha256: string, width: int, height: int, bytes: int} of what is kept
     *
     * @throws Refused it is no picture, none that is taken here, or too large
     */
    public static function take(string $path): array
    {
        $bytes = (int) @filesize($path);
        if ($bytes === 0 || $bytes > self::MOST_BYTES) {
            throw self::not(
                $bytes === 0 ? 'The file is empty.' : sprintf('The file is larger than the %d MB taken.', self::MOST_BYTES / 1_000_000),
            );
        }
        // Its head says how large it is before any of it is unfolded.
        $head = @getimagesize($path);
        if ($head === false || !in_array($head[2], self::KINDS, true)) {
            throw self::not('This is no photo: JPEG, PNG and WebP are taken.');
        }
        if ($head[0] < 1 || $head[1] < 1 || $head[0] * $head[1] > self::MOST_DOTS) {
            throw self::not(sprintf('%d by %d dots: at most %d million are taken.', $head[0], $head[1], self::MOST_DOTS / 1_000_000));
        }
        try {
            // Turned upright when it is small enough to be turned cheaply.
            $image = (new ImageManager(new Driver(), autoOrientation: false))->read($path);
            $image->scaleDown(self::LONG_SIDE, self::LONG_SIDE);
            $image->orient();
            $image->blendTransparency('ffffff');
            $whole = (string) $image->toJpeg(self::QUALITY, strip: true);
            [$width, $height] = [$image->width(), $image->height()];
            $small = (string) $image->scaleDown(self::SMALL_SIDE, self::SMALL_SIDE)->toJpeg(self::SMALL_QUALITY, strip: true);
        } catch (Undecodable) {
            throw self::not('The photo is damaged: it cannot be read to its end.');
        }
        $sha = hash('sha256', $whole);
        self::write(self::path($sha, true), $small);
        self::write(self::path($sha, false), $whole);

        return ['sha256' => $sha, 'width' => $width, 'height' => $height, 'bytes' => strlen($whole)];
    }

    /** Whole or not at all. */
    /**
     * Takes pictures away for good, as far as no photo that is left shows the same.
     *
     * @param  list<string>  $shas
     */
    public static function drop(array $shas): void
    {
        $still = DB::table('photos')->whereIn('sha256', $shas)->pluck('sha256')->all();
        foreach (array_diff(array_unique($shas), $still) as $sha) {
            foreach ([true, false] as $small) {
                @unlink(self::path($sha, $small));
            }
        }
    }

    private static function write(string $path, string $content): void
    {
        if (is_file($path)) {
            return;
        }
        $folder = dirname($path);
        if (!is_dir($folder) && !@mkdir($folder, 0770, true) && !is_dir($folder)) {
            throw new Refused('no-room', 'The photo cannot be written: the disk of the server does not take it.', 503);
        }
        $next = $path . '.' . bin2hex(random_bytes(4));
        if (@file_put_contents($next, $content) !== strlen($content) || !rename($next, $path)) {
            @unlink($next);
            throw new Refused('no-room', 'The photo cannot be written: the disk of the server is full.', 503);
        }
    }

    private static function not(string $why): Refused
    {
        return new Refused('not-a-photo', $why, 422, ['file' => $why]);
    }
}
