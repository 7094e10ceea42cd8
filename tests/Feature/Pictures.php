<?php

declare(strict_types=1);

namespace Tests\Feature;

/** Pictures as cameras make them, and as nobody should send them; each a file of its own. */
final class Pictures
{
    /** Red on its left, blue on its right; with what a camera writes into it, when it is asked. @param int $turned EXIF's orientation */
    public static function jpeg(int $width = 80, int $height = 60, int $turned = 0, string $said = ''): string
    {
        $image = imagecreatetruecolor(max(1, $width), max(1, $height));
        imagefilledrectangle($image, 0, 0, intdiv($width, 2) - 1, $height, (int) imagecolorallocate($image, 220, 20, 20));
        imagefilledrectangle($image, intdiv($width, 2), 0, $width, $height, (int) imagecolorallocate($image, 20, 20, 220));
        ob_start();
        imagejpeg($image, null, 92);
        $bytes = (string) ob_get_clean();
        if ($turned > 0 || $said !== '') {
            $bytes = substr($bytes, 0, 2) . self::exif($turned, $said) . substr($bytes, 2);
        }

        return self::file($bytes);
    }

    /** A file that says it is a PNG of that size, and has nothing in it. */
    public static function hugePng(int $width, int $height): string
    {
        $chunk = fn(string $kind, string $data): string => pack('N', strlen($data)) . $kind . $data . pack('N', crc32($kind . $data));
        $head = pack('NN', $width, $height) . "\x08\x02\x00\x00\x00";
        // Rows of nothing fold into little: a bomb.
        $rows = (string) gzcompress(str_repeat("\0", 2_000_000), 9);

        return self::file("\x89PNG\r\n\x1a\n" . $chunk('IHDR', $head) . $chunk('IDAT', $rows) . $chunk('IEND', ''));
    }

    public static function file(string $bytes): string
    {
        $path = (string) tempnam(sys_get_temp_dir(), 'picture');
        file_put_contents($path, $bytes);

        return $path;
    }

    /** The segment in which a camera says how it was held (0x0112) and whatever else (0x010E). */
    private static function exif(int $turned, string $said): string
    {
        $text = $said . "\0";
        $entries = pack('vvVV', 0x010e, 2, strlen($text), 8 + 2 + 24 + 4) . pack('vvVvv', 0x0112, 3, 1, max(1, $turned), 0);
        $tiff = 'II' . pack('vV', 42, 8) . pack('v', 2) . $entries . pack('V', 0) . $text;
        $body = "Exif\0\0" . $tiff;

        return "\xFF\xE1" . pack('n', strlen($body) + 2) . $body;
    }
}
