<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Pack;
use App\Models\PackLink;
use App\Models\Person;
use App\Models\ServiceReading;
use App\Read\PackWatch;
use Carbon\CarbonImmutable;
use Heartwood\Core\Drift\OwnerAnswer;
use Heartwood\Core\Drift\Point;
use Heartwood\Core\Drift\Verdict;
use Heartwood\Core\Service\Glance;
use Illuminate\Support\Facades\DB;

/** A dated reading of a pack in service: kept once under the id that it was given where it was read, answered at once. */
final class KeepServiceReading
{
    /** Minutes by which a clock at the bench may run ahead. */
    private const AHEAD_MIN = 5;

    /**
     * @param  Person|PackLink  $by  who tells it: somebody of the workshop, or whoever holds the owner's link
     * @param  list<array<string, mixed>>  $rows  id, at, condition, soc, groups_v, highest_v, lowest_v, halves_v, pack_v, resolution_v,
     *   signs, note, topped_up, source (of the workshop: bench, board or import)
     * @param  bool  $anyway  also of a pack that is not watched: read among its siblings
     * @return array{list<ServiceReading>, Pack}
     *
     * @throws Refused the pack is not watched, a reading is no reading of it, or its id is another's
     */
    public function keep(Person|PackLink $by, Pack $pack, array $rows, bool $anyway = false): array
    {
        return DB::transaction(function () use ($by, $pack, $rows, $anyway): array {
            $pack = Pack::query()->lockForUpdate()->findOrFail($pack->id);
            if ($by instanceof PackLink && PackLink::query()->whereKey($by->id)->lockForUpdate()->value('ended_at') !== null) {
                throw new Refused('no-link', OpenPackLink::GONE, 404);
            }
            if ($pack->work_ended_at === null && !$anyway) {
                throw new Refused('not-watched', 'This pack is at the workshop, or never went back: there is nothing to watch yet.');
            }
            $kept = [];
            // All that came at once was told at once.
            $told = CarbonImmutable::now();
            $points = array_column(PackWatch::points($pack), 'point');
            foreach ($rows as $i => $row) {
                $known = ServiceReading::query()->whereKey($row['id'])->first();
                if ($known !== null) {
                    if ($known->pack_id !== $pack->id) {
                        throw new Refused('other-reading', 'This id belongs to another reading.', 422, [
                            "readings.$i.id" => 'Choose another.',
                        ]);
                    }
                    $kept[] = $known;

                    continue;
                }
                $kept[] = $new = $this->one($by, $pack, $row, $told, $points, "readings.$i.");
                $points[] = $new->point();
            }
            KeepPack::refresh($pack);

            return [$kept, $pack->refresh()];
        });
    }

    /** @throws Refused a time that is yet to come, but for a clock that runs a little ahead */
    public static function past(CarbonImmutable $at, string $field): void
    {
        if ($at->greaterThan(CarbonImmutable::now()->addMinutes(self::AHEAD_MIN))) {
            throw new Refused('future', 'Read at a time that is yet to come: mend the date.', 422, [$field => 'This is yet to come.']);
        }
    }

    /** A reading that was a slip: it stays as it was written, and counts no more. */
    public function takeBack(Person $person, Pack $pack, ServiceReading $reading, string $reason): Pack
    {
        return DB::transaction(function () use ($person, $pack, $reading, $reason): Pack {
            $pack = Pack::query()->lockForUpdate()->findOrFail($pack->id);
            if (PackWatch::standing($pack)->whereKey($reading->id)->doesntExist()) {
                throw new Refused('taken-back', 'This reading was taken back already.');
            }
            ServiceReading::query()->create([
                'id' => (string) \Illuminate\Support\Str::uuid7(),
                'workshop_id' => $pack->workshop_id,
                'pack_id' => $pack->id,
                'at' => $reading->at,
                'told_at' => now(),
                'source' => 'bench',
                'person_id' => $person->id,
                'condition' => $reading->condition,
                'resolution_v' => $reading->resolution_v,
                'takes_back_id' => $reading->id,
                'note' => $reason,
            ]);
            EventLog::add($person, null, EventKind::PackReadTakenBack, [
                'pack' => $pack->id,
                'reading' => $reading->id,
                'reason' => $reason,
            ]);
            KeepPack::refresh($pack);

            return $pack->refresh();
        });
    }

    /**
     * @param  array<string, mixed>  $row
     * @param  list<Point>  $points  that stand already
     */
    private function one(Person|PackLink $by, Pack $pack, array $row, CarbonImmutable $told, array $points, string $field): ServiceReading
    {
        $groups = $row['groups_v'] ?? null;
        [$high, $low] = [$row['highest_v'] ?? null, $row['lowest_v'] ?? null];
        $halves = $row['halves_v'] ?? null;
        $read =
            $groups !== null ||
            ($high !== null && $low !== null) ||
            isset($row['pack_v']) ||
            isset($row['soc']) ||
            $halves !== null ||
            ($row['topped_up'] ?? false) === true;
        // A sign of harm needs no number.
        if (!$read && array_filter((array) ($row['signs'] ?? [])) === []) {
            throw new Refused('empty', 'Nothing was read: every group, the highest and the lowest, or the volts of the pack.', 422, [
                $field . 'groups_v' => 'Nothing was read.',
            ]);
        }
        $at = CarbonImmutable::parse((string) $row['at']);
        if ($by instanceof PackLink && $at->greaterThan($told)) {
            // A phone whose clock runs ahead loses no reading.
            $at = $told;
        }
        self::past($at, $field . 'at');
        $reading = new ServiceReading([
            'id' => $row['id'],
            'workshop_id' => $pack->workshop_id,
            'pack_id' => $pack->id,
            'at' => $at,
            'told_at' => $told,
            'source' => $by instanceof PackLink ? 'owner' : $row['source'] ?? 'bench',
            'person_id' => $by instanceof Person ? $by->id : null,
            'pack_link_id' => $by instanceof PackLink ? $by->id : null,
            'condition' => $row['condition'],
            'soc' => $row['soc'] ?? null,
            'groups_v' => $groups,
            'highest_v' => $high,
            'lowest_v' => $low,
            'pack_v' => $row['pack_v'] ?? ($halves === null ? null : $halves[0] + $halves[1]),
            'halves_v' => $halves,
            'topped_up' => ($row['topped_up'] ?? false) === true,
            'resolution_v' => $row['resolution_v'] ?? Point::RESOLUTION_V,
            'signs' => $row['signs'] ?? null,
            'note' => $row['note'] ?? '',
        ]);
        $problem = $reading->point()->problem($pack->packSpec()->series);
        if ($problem !== null) {
            $text = ucfirst($problem['text']) . '.';
            throw new Refused('no-reading', $text, 422, [$field . $problem['field'] => $text]);
        }
        $reading->answer = $pack->work_ended_at === null ? null : self::answer($pack, $reading, $points);
        $reading->save();
        if ($by instanceof Person) {
            EventLog::add($by, null, EventKind::PackRead, ['pack' => $pack->id, 'reading' => $reading->id]);
        } else {
            PackLink::query()
                ->whereKey($by->id)
                ->update(['used_at' => now(), 'entries' => DB::raw('entries + 1')]);
        }

        return $reading;
    }

    /**
     * @param  list<Point>  $points
     * @return array<string, mixed> what is said of it, as it is kept with it
     */
    private static function answer(Pack $pack, ServiceReading $reading, array $points): array
    {
        $spec = $pack->packSpec();
        $point = $reading->point();
        $drift = Verdict::of($spec, (string) $pack->work_ended_at?->toIso8601ZuluString('microsecond'), [...$points, $point]);
        $signs = array_map(fn(mixed $s): ?bool => $s === null ? null : (bool) $s, (array) $reading->signs);
        $mark = Glance::of($spec, $point, $reading->halves(), $reading->pack_v);
        $a = OwnerAnswer::of($spec, $drift, $point, $reading->pack_v, $signs, $mark);

        return ['answer' => $a->answer->value, 'why' => $a->why, 'again_at' => $a->againAt, 'state' => $drift->state->value];
    }
}
