<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Job;
use App\Models\Person;
use App\Models\PhoneLink;
use App\Models\Photo;
use App\Security\AccessLimits;
use App\Support\PhotoStore;
use Illuminate\Support\Facades\DB;

/**
 * Photos of a job: taken at the bench or by a phone that holds a link, each once by its own name; marked, chosen for the report, put
 * away.
 */
final class KeepPhoto
{
    /**
     * @param  Person|PhoneLink  $by  who takes it, or the link whose holder does
     * @param  array{id: string, about?: string|null, at?: string|null}  $about
     * @return array{Photo, bool} the photo, and whether it was here already
     */
    public function take(Person|PhoneLink $by, Job $job, string $path, array $about): array
    {
        $known = Photo::query()->find($about['id']);
        if ($known !== null) {
            return [$this->same($known, $job), true];
        }
        // Unfolding a picture takes its time: nothing is locked meanwhile.
        $kept = PhotoStore::take($path);

        return DB::transaction(function () use ($by, $job, $about, $kept): array {
            LockJob::now($job);
            Gatekeeper::open($job);
            $known = Photo::query()->find($about['id']);
            if ($known !== null) {
                return [$this->same($known, $job), true];
            }
            if ($by instanceof PhoneLink) {
                $by = PhoneLink::query()->lockForUpdate()->findOrFail($by->id);
                if ($by->taken >= AccessLimits::PHONE_PHOTOS) {
                    throw new Refused(
                        'enough',
                        sprintf('One link takes %d photos. Open another at the bench.', AccessLimits::PHONE_PHOTOS),
                    );
                }
                $by->update(['taken' => $by->taken + 1]);
            }
            $at = isset($about['at']) ? now()->parse($about['at'])->utc() : now();
            $photo = Photo::query()->create(
                $kept + [
                    'id' => $about['id'],
                    'workshop_id' => $job->workshop_id,
                    'job_id' => $job->id,
                    'about' => $about['about'] ?? '',
                    'taken_by' => $by instanceof Person ? $by->id : $by->opened_by,
                    'phone_link_id' => $by instanceof PhoneLink ? $by->id : null,
                    // A clock that is ahead does not date a photo into the future.
                    'taken_at' => $at->min(now()),
                    'received_at' => now(),
                ],
            );

            return [$photo, false];
        });
    }

    /** @param  array<string, mixed>  $changes  about, note, marks, on_report, removed */
    public function change(Person $person, Photo $photo, array $changes, ?string $version): Photo
    {
        return DB::transaction(function () use ($person, $photo, $changes, $version): Photo {
            $photo = Version::lock($photo, $version, array_keys($changes));
            $job = Job::query()->whereKey($photo->job_id)->firstOrFail();
            Gatekeeper::open($job);
            $changes = array_map(fn(mixed $v): mixed => $v ?? '', $changes);
            $photo->fill($changes);
            $photo->version++;
            $photo->save();
            if (($changes['removed'] ?? false) === true) {
                EventLog::add($person, $job, EventKind::PhotoRemoved, ['photo' => $photo->id]);
            }

            return $photo;
        });
    }

    /** The same name again is the same photo; of another job it is somebody's mistake. */
    private function same(Photo $known, Job $job): Photo
    {
        if ($known->job_id !== $job->id) {
            throw new Refused('other-job', 'A photo of this name belongs to another job.', 422, ['id' => 'Take it anew.']);
        }

        return $known;
    }
}
