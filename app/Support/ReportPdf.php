<?php

declare(strict_types=1);

namespace App\Support;

use App\Models\Photo;
use Dompdf\Dompdf;
use Dompdf\Options;

/** What comes out on paper: the report, the build sheet. */
final class ReportPdf
{
    /** Height of a pack drawn, so that two stand over one another on the first page. */
    private const HALF = 300.0;

    /** Millimetres of a photo on paper. */
    private const PHOTO_MM = 84.0;

    /**
     * @param  array<string, mixed>  $job  as JobView gives it
     * @param  iterable<Photo>  $photos  chosen for it
     */
    public static function render(array $job, string $workshop, iterable $photos = []): string
    {
        $sample =
            $job['verdict'] === null
                ? null
                : 'data:image/svg+xml;base64,' . base64_encode(CoreSampleSvg::draw(self::groups($job['verdict']), self::HALF));

        $found = $job['decision']['found'] ?? null;
        $before =
            $found === null || $job['verdict'] === null || $found['verdict_id'] === $job['verdict']['id']
                ? null
                : 'data:image/svg+xml;base64,' . base64_encode(CoreSampleSvg::draw($found['groups'], self::HALF));

        return self::view('report', [
            'job' => $job,
            'workshop' => $workshop,
            'before' => $before,
            'sample' => $sample,
            'photos' => self::photos($photos),
        ]);
    }

    /**
     * @param  array<string, mixed>  $verdict
     * @return list<array{group: int, v: float|null, state: string, probability: float, doubt: string|null}> a doubted one says so
     */
    private static function groups(array $verdict): array
    {
        return array_map(
            fn(array $g, ?array $more): array => [
                'group' => (int) $g['group'],
                'v' => isset($g['v']) ? (float) $g['v'] : null,
                'state' => (string) $g['state'],
                'probability' => (float) $g['probability'],
                'doubt' => $more['doubt'] ?? null,
            ],
            $verdict['document']['groups'],
            $verdict['detail']['groups'] ?? [],
        );
    }

    /**
     * @param  iterable<Photo>  $photos
     * @return list<array{src: string, mm: float, high: float, marks: list<array{left: float, top: float, text: string}>, said: string}>
     */
    private static function photos(iterable $photos): array
    {
        $out = [];
        foreach ($photos as $p) {
            $bytes = @file_get_contents(PhotoStore::path($p->sha256, false));
            if ($bytes === false) {
                continue;
            }
            // Upright ones are as high as lying ones are wide: two fit beside one another, and none is longer than half a page.
            $mm = self::PHOTO_MM * min(1.0, $p->width / $p->height);
            $high = ($mm * $p->height) / $p->width;
            $out[] = [
                'src' => 'data:image/jpeg;base64,' . base64_encode($bytes),
                'mm' => round($mm, 1),
                'high' => round($high, 1),
                'marks' => array_map(
                    fn(array $m): array => [
                        'left' => round($m['x'] * $mm - 2.2, 1),
                        'top' => round($m['y'] * $high - 2.2, 1),
                        'text' => (string) ($m['text'] ?? ''),
                    ],
                    array_values($p->marks),
                ),
                'said' => implode(': ', array_filter([$p->about, $p->note])),
            ];
        }

        return $out;
    }

    /**
     * @param  array<string, mixed>  $data
     * @param  'portrait'|'landscape'  $orientation
     */
    public static function view(string $name, array $data, string $orientation = 'portrait'): string
    {
        $options = new Options();
        $options->setIsRemoteEnabled(false);
        $options->setTempDir(storage_path('framework/cache'));
        $options->setFontCache(storage_path('framework/cache'));
        $pdf = new Dompdf($options);
        $pdf->loadHtml(view($name, $data)->render());
        $pdf->setPaper('A4', $orientation);
        $pdf->render();

        return (string) $pdf->output();
    }
}
