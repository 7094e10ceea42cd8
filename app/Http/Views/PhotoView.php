<?php

declare(strict_types=1);

namespace App\Http\Views;

use App\Actions\Version;
use App\Models\Job;
use App\Models\PhoneLink;
use App\Models\Photo;

/** Photos as lists show them. */
final class PhotoView
{
    /** @return array<string, mixed> */
    public static function row(Photo $p): array
    {
        return [
            'id' => $p->id,
            'version' => Version::tag($p),
            'width' => $p->width,
            'height' => $p->height,
            'about' => $p->about,
            'note' => $p->note,
            'marks' => $p->marks,
            'on_report' => $p->on_report,
            'by' => $p->person?->name,
            'phone' => $p->phone_link_id !== null,
            'at' => $p->taken_at->toIso8601ZuluString(),
        ];
    }

    /** @return array<string, mixed> of a job: all of them, and whether a phone may add some */
    public static function ofJob(Job $job): array
    {
        $open = PhoneLink::query()->where('job_id', $job->id)->whereNull('ended_at')->where('expires_at', '>', now())->max('expires_at');

        return [
            'photos' => Photo::query()
                ->where('job_id', $job->id)
                ->where('removed', false)
                ->with('person')
                ->orderBy('taken_at')
                ->orderBy('id')
                ->get()
                ->map(self::row(...))
                ->all(),
            'phone_until' => $open === null ? null : now()->parse($open)->toIso8601ZuluString(),
        ];
    }
}
