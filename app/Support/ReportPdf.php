<?php

declare(strict_types=1);

namespace App\Support;

use Dompdf\Dompdf;
use Dompdf\Options;

/** What comes out on paper: the report, the build sheet. */
final class ReportPdf
{
    /** @param  array<string, mixed>  $job as JobView gives it */
    public static function render(array $job, string $workshop): string
    {
        $sample =
            $job['verdict'] === null
                ? null
                : 'data:image/svg+xml;base64,' . base64_encode(CoreSampleSvg::draw($job['verdict']['document']['groups']));

        return self::view('report', ['job' => $job, 'workshop' => $workshop, 'sample' => $sample]);
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
