<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\PackLink;
use App\Models\ServicePhoto;
use App\Security\AccessLimits;
use App\Support\PhotoStore;
use Illuminate\Support\Facades\DB;

/** A photo of a pack's display, taken by its owner beside a reading: once by its own name, drawn anew like every photo. */
final class KeepServicePhoto
{
    /**
     * @param  array{id: string, reading?: string|null, at?: string|null}  $about
     * @return bool whether it was here already
     *
     * @throws Refused the link is withdrawn, the name belongs to another pack's photo, or too many came within the hour
     */
    public function take(PackLink $link, string $path, array $about): bool
    {
        $this->pace($link);
        if ($this->known($link, $about['id'])) {
            return true;
        }
        // Unfolding a picture takes its time: nothing is locked meanwhile.
        $kept = PhotoStore::take($path);

        return DB::transaction(function () use ($link, $about, $kept): bool {
            if (PackLink::query()->whereKey($link->id)->lockForUpdate()->value('ended_at') !== null) {
                throw new Refused('no-link', OpenPackLink::GONE, 404);
            }
            if ($this->known($link, $about['id'])) {
                return true;
            }
            $at = isset($about['at']) ? now()->parse($about['at'])->utc() : now();
            ServicePhoto::query()->create(
                $kept + [
                    'id' => $about['id'],
                    'workshop_id' => $link->workshop_id,
                    'pack_id' => $link->pack_id,
                    'service_reading_id' => $about['reading'] ?? null,
                    'pack_link_id' => $link->id,
                    'taken_at' => $at->min(now()),
                    'received_at' => now(),
                ],
            );

            return false;
        });
    }

    private function known(PackLink $link, string $id): bool
    {
        $known = ServicePhoto::query()->find($id);
        if ($known !== null && $known->pack_id !== $link->pack_id) {
            throw new Refused('other-photo', 'A photo of this name belongs to another pack.', 422, ['id' => 'Take it anew.']);
        }

        return $known !== null;
    }

    private function pace(PackLink $link): void
    {
        $count = ServicePhoto::query()->where('pack_link_id', $link->id)->where('received_at', '>', now()->subHour())->count();
        if ($count >= AccessLimits::OWNER_PHOTOS_HOUR) {
            OpenPackLink::flooded($link, 'Too many photos in one hour. Wait, then send it again: it is kept on this phone.');
        }
    }
}
